<?php

declare(strict_types=1);

namespace Velvet\Core\Bytes;

/** Comma-separated values as RFC 4180 has them. */
final class Csv
{
    /**
     * @param list<string> $fields
     *
     * @return string one record, ended by CR LF
     */
    public static function record(array $fields): string
    {
        return implode(
            ',',
            array_map(
                static fn (string $field): string => 1 === preg_match('/[",\r\n]/', $field) ? '"'.str_replace('"', '""', $field).'"' : $field,
                $fields,
            ),
        )."\r\n";
    }
}
