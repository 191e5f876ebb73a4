<?php

declare(strict_types=1);

namespace Velvet\Server\Work\Cards;

use Velvet\Core\Bytes\FileBytes;
use Velvet\Core\Bytes\FileUnreadable;
use Velvet\Core\Bytes\Fingerprint;
use Velvet\Core\Card\Insertion;
use Velvet\Core\Drive\FileStamp;
use Velvet\Server\Store\Row;
use Velvet\Server\Store\Rows;

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

    public function __construct(private readonly Rows $rows)
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
        $planned = $this->rows->all(<<<'SQL'
            SELECT source, bytes, modified_at, fingerprint FROM (
                SELECT t.*, row_number() OVER (ORDER BY id) - 1 AS n, count(*) OVER () AS total FROM transfer t
                WHERE intake_id = :intake AND card_id = :card AND fingerprint IS NOT NULL
            ) AS spread WHERE n % greatest(1, total / :most) = 0 ORDER BY n
            SQL, ['intake' => $intake, 'card' => $card, 'most' => self::LOOKED_AT]);
        $same = array_filter(
            $planned,
            static fn (Row $file): bool => self::isAsPlanned($file, $root.'/'.$file->text('source')),
        );

        // a few may have been changed, which is said of each; most of them being others is another card
        return \count($planned) < self::FEWEST || 2 * \count($same) >= \count($planned);
    }

    private static function isAsPlanned(Row $file, string $path): bool
    {
        $stamp = FileStamp::of($path);
        if ($stamp?->bytes !== $file->int('bytes') || (int) $stamp->modifiedAt !== $file->int('modified_at')) {
            return false;
        }
        try {
            return Fingerprint::of(FileBytes::open($path))->hex === $file->text('fingerprint');
        } catch (FileUnreadable) {
            return true; // a file that cannot be read now tells nothing
        }
    }
}
