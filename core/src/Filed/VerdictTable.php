<?php

declare(strict_types=1);

namespace Velvet\Core\Filed;

use Velvet\Core\Bytes\Csv;

/**
 * Verdicts as a table that other programs read and write: CSV (RFC 4180, UTF-8, a line of names first) with `shoot`,
 * `path`, `verdict`, `stars`, `tabs` and `by`, or a JSON document with a list of `frames` that have members of these
 * names. `path` is that of a file of the frame below its shelf, `verdict` is `kept`, `struck` or `open`, `stars` 0 to 5
 * or empty where nobody gave any, `tabs` the names of those it has, parted by semicolons (in JSON a list): without that
 * column or member a frame keeps its tabs. `by`, who judged, is written and not read. Other columns and members are
 * passed over.
 */
final class VerdictTable
{
    private const PARTED = ';';
    private const COLUMNS = ['shoot', 'path', 'verdict', 'stars', 'tabs', 'by'];

    /**
     * @param list<array{shoot: string, path: string, verdict: string, stars: int|null, tabs: list<string>,
     *     by: string|null}> $frames
     */
    public static function csv(array $frames): string
    {
        $lines = Csv::record(self::COLUMNS);
        foreach ($frames as $frame) {
            $lines .= Csv::shown([
                $frame['shoot'], $frame['path'], $frame['verdict'], (string) $frame['stars'],
                implode(self::PARTED.' ', $frame['tabs']), (string) $frame['by'],
            ]);
        }

        return $lines;
    }

    /**
     * @return list<array{path: string, verdict: Verdict, stars: int|null, tabs: list<string>|null}> in the order of the
     *     file; null where it says nothing of tabs
     *
     * @throws VerdictsUnreadable naming the line, when any of them cannot be understood: nothing is taken by halves
     */
    public static function read(string $file): array
    {
        $text = @file_get_contents($file);
        if (false === $text) {
            throw VerdictsUnreadable::file($file, 'it cannot be read');
        }
        if (!mb_check_encoding($text, 'UTF-8')) {
            throw VerdictsUnreadable::file($file, 'it is not in UTF-8');
        }
        $text = preg_replace('/^\x{FEFF}/u', '', $text) ?? '';
        $rows = str_starts_with(ltrim($text), '{') ? self::ofJson($file, $text) : self::ofCsv($file, $text);
        $read = [];
        foreach ($rows as $n => $row) {
            $verdict = Verdict::tryFrom(strtolower(trim($row['verdict'])));
            $stars = trim($row['stars']);
            if ('' === $row['path'] || null === $verdict || 1 !== preg_match('/^[0-5]?$/', $stars)) {
                throw VerdictsUnreadable::file($file, \sprintf(
                    'number %d of its frames wants a path, a verdict (kept, struck or open) and 0 to 5 stars or none',
                    $n + 1,
                ));
            }
            $read[] = [
                'path' => $row['path'],
                'verdict' => $verdict,
                'stars' => '' === $stars ? null : (int) $stars,
                'tabs' => null === $row['tabs'] ? null : self::tabs($file, $row['tabs']),
            ];
        }

        return $read;
    }

    /** @return list<array{path: string, verdict: string, stars: string, tabs: list<string>|null}> */
    private static function ofJson(string $file, string $text): array
    {
        $document = json_decode($text, true);
        $frames = \is_array($document) ? $document['frames'] ?? null : null;
        if (!\is_array($frames)) {
            throw VerdictsUnreadable::file($file, 'it is no JSON document with a list of frames');
        }

        return array_values(array_map(static function (mixed $frame): array {
            $said = static fn (string $member): string => \is_array($frame) && \is_scalar($frame[$member] ?? null)
                ? (string) $frame[$member]
                : '';

            $tabs = \is_array($frame) ? $frame['tabs'] ?? null : null;
            $tabs = \is_string($tabs) ? explode(self::PARTED, $tabs) : $tabs;

            return [
                'path' => $said('path'),
                'verdict' => $said('verdict'),
                'stars' => $said('stars'),
                'tabs' => \is_array($tabs) ? array_values(array_filter($tabs, is_string(...))) : null,
            ];
        }, $frames));
    }

    /** @return list<array{path: string, verdict: string, stars: string, tabs: list<string>|null}> */
    private static function ofCsv(string $file, string $text): array
    {
        $stream = fopen('php://memory', 'w+');
        \assert(false !== $stream);
        fwrite($stream, $text);
        rewind($stream);
        $first = fgetcsv($stream, null, ',', '"', '');
        $names = array_flip(array_map(
            static fn (?string $name): string => strtolower(trim((string) $name)),
            false === $first ? [] : $first,
        ));
        if (!isset($names['path'], $names['verdict'])) {
            throw VerdictsUnreadable::file($file, 'its first line does not name the columns path and verdict');
        }
        $rows = [];
        while (false !== $fields = fgetcsv($stream, null, ',', '"', '')) {
            if ([null] !== $fields) { // an empty line
                $rows[] = [
                    'path' => Csv::meant($fields[$names['path']] ?? ''),
                    'verdict' => $fields[$names['verdict']] ?? '',
                    'stars' => $fields[$names['stars'] ?? -1] ?? '',
                    'tabs' => isset($names['tabs'])
                        ? explode(self::PARTED, Csv::meant($fields[$names['tabs']] ?? ''))
                        : null,
                ];
            }
        }

        return $rows;
    }

    /**
     * @param list<string> $named
     *
     * @return list<string>
     *
     * @throws VerdictsUnreadable
     */
    private static function tabs(string $file, array $named): array
    {
        try {
            return array_values(array_unique(array_map(
                Tab::name(...),
                array_filter($named, static fn (string $name): bool => '' !== trim($name)),
            )));
        } catch (TabRefused $e) {
            throw VerdictsUnreadable::file($file, lcfirst(rtrim($e->getMessage(), '.')));
        }
    }
}
