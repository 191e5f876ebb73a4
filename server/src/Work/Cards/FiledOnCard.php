<?php

declare(strict_types=1);

namespace Velvet\Server\Work\Cards;

use Velvet\Core\Bytes\Fingerprint;
use Velvet\Core\Filed\FiledBefore;
use Velvet\Server\Store\Card;
use Velvet\Server\Store\CardContents;
use Velvet\Server\Store\ComparedFile;

/** Which files on a card the ledger has, with a copy still there; a frame is filed when it has all of them. */
final readonly class FiledOnCard
{
    /** Files of which it is set down together what came of them. */
    private const SET_DOWN_TOGETHER = 500;

    public function __construct(private CardContents $contents, private FiledBefore $filedBefore)
    {
    }

    /** All of the card, anew. */
    public function compare(Card $card): void
    {
        $this->among($card, true);
    }

    /**
     * What was filed since the card was read, as from the other slot's card or by somebody else. Only files of a known
     * likeness are read.
     */
    public function catchUp(Card $card): void
    {
        $this->among($card, false);
    }

    private function among(Card $card, bool $all): void
    {
        foreach (array_chunk($this->contents->toBeCompared($card, $all), self::SET_DOWN_TOGETHER) as $files) {
            $this->contents->compared(
                array_map(fn (ComparedFile $file): ComparedFile => $this->compared($card, $file), $files),
            );
        }
    }

    private function compared(Card $card, ComparedFile $file): ComparedFile
    {
        $copy = null === $file->fingerprint
            ? null
            : $this->filedBefore->find($card->root.'/'.$file->path, Fingerprint::fromHex($file->fingerprint));

        return true === $copy?->needsRepair() ? $file->equals(null, $copy->id) : $file->equals($copy?->id, null);
    }
}
