<?php

declare(strict_types=1);

namespace Velvet\Core\Bytes;

/** Comma-separated values as RFC 4180 has them. */
final class Csv
{
    /** What a spreadsheet would take for a formula (OWASP, “CSV Injection”). */
    private const FORMULA = '/^[=+\-@\t\r]/';

    /**
     * As {@see self::record()}, for whoever opens it in a spreadsheet: a field that would be computed gets an
     * apostrophe before it.
     *
     * @param list<string> $fields
     */
    public static function shown(array $fields): string
    {
        return self::record(array_map(
            static fn (string $field): string => 1 === preg_match(self::FORMULA, $field) ? "'".$field : $field,
            $fields,
        ));
    }

    /** A field without the apostrophe that {@see self::shown()} gave it. */
    public static function meant(string $field): string
    {
        return str_starts_with($field, "'") && 1 === preg_match(self::FORMULA, substr($field, 1))
            ? substr($field, 1)
            : $field;
    }

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
                static fn (string $field): string => 1 === preg_match('/[",\r\n]/', $field)
                    ? '"'.str_replace('"', '""', $field).'"'
                    : $field,
                $fields,
            ),
        )."\r\n";
    }
}
