<?php

declare(strict_types=1);

namespace Velvet\Server\Work\Cards;

use Velvet\Core\Bytes\Fingerprint;
use Velvet\Core\Filed\FiledBefore;
use Velvet\Server\Store\Card;
use Velvet\Server\Store\CardContents;

/** Which files on a card the ledger has, with a copy still there; a frame is filed when it has all of them. */
final readonly class FiledOnCard
{
    public function __construct(private CardContents $contents, private FiledBefore $filedBefore)
    {
    }

    /** All of the card, anew. */
    public function compare(Card $card): void
    {
        $this->contents->forgetFiled($card);
        $this->catchUp($card);
    }

    /**
     * What was filed since the card was read, as from the other slot's card or by somebody else. Only files of a known
     * likeness are read.
     */
    public function catchUp(Card $card): void
    {
        $filed = $equal = $repairs = [];
        foreach ($this->contents->maybeFiled($card) as $frame => $files) {
            $whole = 0;
            foreach ($files as ['id' => $id, 'path' => $path, 'fingerprint' => $hex, 'isFiled' => $isFiled]) {
                $copy = null === $hex || $isFiled
                    ? null
                    : $this->filedBefore->find($card->root.'/'.$path, Fingerprint::fromHex($hex));
                if (true === $copy?->needsRepair()) {
                    $repairs[$id] = $copy->id;
                } elseif (null !== $copy) {
                    $equal[$id] = $copy->id;
                    ++$whole;
                } elseif ($isFiled) {
                    ++$whole;
                }
            }
            if ($whole === \count($files)) {
                $filed[] = $frame;
            }
        }
        $this->contents->foundFiled($equal, $repairs, $filed);
    }
}
