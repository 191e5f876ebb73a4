<?php

declare(strict_types=1);

namespace Velvet\Server\Work\Cards;

use Velvet\Core\Bytes\FileBytes;
use Velvet\Core\Bytes\FileUnreadable;
use Velvet\Core\Bytes\Fingerprint;
use Velvet\Core\Card\Insertion;
use Velvet\Core\Copy\Transfer;
use Velvet\Core\Drive\FileStamp;
use Velvet\Server\Store\Transfers;

/**
 * Whether the card that is in is the one that an intake was planned from: another one may have the same label, names
 * and sizes. Asked once for each stay of a card in its reader; every single file is compared with the plan again when
 * it is copied.
 */
final class SameCard
{
    /** Files that are looked at, spread over the card. */
    private const LOOKED_AT = 24;
    /**
     * With fewer files a changed one would look like another card; each of them is compared when it is copied anyway.
     */
    private const FEWEST = 4;

    /** @var array<string, bool> answers by intake, card and insertion */
    private array $answers = [];

    public function __construct(private readonly Transfers $transfers)
    {
    }

    public function isIn(int $intake, int $card, string $root): bool
    {
        $insertion = Insertion::at($root);
        if (null === $insertion) {
            return false;
        }

        return $this->answers[$intake.' '.$card.' '.$insertion] ??= $this->looksTheSame($intake, $card, $root);
    }

    private function looksTheSame(int $intake, int $card, string $root): bool
    {
        $planned = $this->transfers->spread($intake, $card, self::LOOKED_AT);
        $same = array_filter(
            $planned,
            static fn (Transfer $file): bool => self::isAsPlanned($file, $root.'/'.$file->source()),
        );

        // a few may have been changed, which is said of each; most of them being others is another card
        return \count($planned) < self::FEWEST || 2 * \count($same) >= \count($planned);
    }

    private static function isAsPlanned(Transfer $file, string $path): bool
    {
        $stamp = FileStamp::of($path);
        if ($stamp?->bytes !== $file->bytes() || (int) $stamp->modifiedAt !== $file->modifiedAt()) {
            return false;
        }
        try {
            return Fingerprint::of(FileBytes::open($path))->hex === $file->fingerprint()?->hex;
        } catch (FileUnreadable) {
            return true; // a file that cannot be read now tells nothing
        }
    }
}
