<?php

declare(strict_types=1);

namespace Velvet\Core\Ledger;

use Velvet\Core\Bytes\Csv;

/** Receipt lines as comma-separated values: RFC 4180, UTF-8, a header line, lines that end in CRLF. */
final class ReceiptTable
{
    private const COLUMNS = [
        'state', 'intake', 'shoot', 'card', 'original', 'path', 'place', 'second_place', 'bytes', 'digest',
        'second_digest', 'filed_at', 'note',
    ];

    /** @param iterable<ReceiptLine> $lines */
    public static function of(iterable $lines): string
    {
        $table = Csv::record(self::COLUMNS);
        foreach ($lines as $line) {
            $table .= Csv::shown([
                $line->state, (string) $line->intake, $line->shoot, $line->card, $line->original, $line->path ?? '',
                $line->places[0] ?? '', $line->places[1] ?? '', (string) $line->bytes,
                $line->digests?->content->labelled() ?? '', $line->digests?->labelled()[1] ?? '', $line->filedAt ?? '',
                $line->note,
            ]);
        }

        return $table;
    }
}
