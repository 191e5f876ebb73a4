<?php

declare(strict_types=1);

namespace Velvet\Core\Keyword;

use Velvet\Core\Bytes\Csv;

/**
 * Lists of keywords: CSV (RFC 4180), which holds all that the catalogue knows of them; and plain text with the words
 * alone, one a line, those beneath another indented by a tab more, or by blanks (common practice).
 */
final readonly class KeywordList
{
    public const COLUMNS = ['keyword', 'heading', 'private', 'with_those_above', 'synonyms'];
    private const MOST_BYTES = 16 * 1024 * 1024;
    private const YES = ['yes', 'true', '1', 'x'];
    private const SYNONYMS_PARTED_BY = '; ';

    /**
     * @param list<ListedKeyword> $keywords
     * @param list<string>        $problems sentences on lines that were not taken in
     */
    private function __construct(public array $keywords, public array $problems)
    {
    }

    /** @param string $name of the file, for sentences; CSV where it ends so */
    public static function read(string $name, string $bytes): self
    {
        if (\strlen($bytes) > self::MOST_BYTES) {
            return new self(
                [],
                [
                    \sprintf(
                        '%s is larger than %d MB; no list of keywords is. Nothing was taken in.',
                        $name,
                        intdiv(self::MOST_BYTES, 1024 * 1024),
                    ),
                ],
            );
        }
        $text = self::utf8($bytes);
        if (null === $text) {
            return new self(
                [],
                [\sprintf('%s is no text in UTF-8 or UTF-16. Save it as one of those; nothing was taken in.', $name)],
            );
        }

        return str_ends_with(strtolower($name), '.csv') ? self::csv($name, $text) : self::text($name, $text);
    }

    /** @return string UTF-8, lines ended by LF */
    public static function toText(KeywordTree $tree): string
    {
        $text = '';
        foreach ($tree->inOrder() as $keyword) {
            $in = str_repeat("\t", \count($tree->path($keyword->id)->names) - 1);
            $text .= $in.$keyword->name."\n";
        }

        return $text;
    }

    /** @return string RFC 4180: UTF-8, lines ended by CR LF, the first with the columns' names */
    public static function toCsv(KeywordTree $tree): string
    {
        $rows = [self::COLUMNS];
        foreach ($tree->inOrder() as $keyword) {
            $rows[] = [
                $tree->path($keyword->id)->text(),
                self::yes($keyword->heading),
                self::yes($keyword->private),
                self::yes($keyword->withAbove),
                implode(self::SYNONYMS_PARTED_BY, $keyword->synonyms),
            ];
        }

        return implode('', array_map(Csv::record(...), $rows));
    }

    private static function text(string $name, string $text): self
    {
        $keywords = $problems = [];
        /** @var list<string> $above names of the keywords that the line may lie beneath */
        $above = [];
        $skippedFrom = null;
        $perStep = null;
        foreach (explode("\n", str_replace(["\r\n", "\r"], "\n", $text)) as $n => $line) {
            if ('' === trim($line)) {
                continue;
            }
            $blank = \strlen($line) - \strlen(ltrim($line, "\t "));
            $tabs = substr_count(substr($line, 0, $blank), "\t");
            $spaces = $blank - $tabs;
            if ($spaces > 0 && 0 === $tabs) {
                $perStep ??= $spaces;
            }
            $depth = $tabs + (null === $perStep || 0 === $spaces ? 0 : intdiv($spaces, $perStep));
            if (null !== $skippedFrom && $depth > $skippedFrom) {
                continue; // beneath a line that was not taken in
            }
            $skippedFrom = null;
            $word = trim($line);
            if ($depth > \count($above) || (null !== $perStep && 0 === $tabs && 0 !== $spaces % $perStep)) {
                $problems[] = \sprintf(
                    '%s, line %d: “%s” is indented further than one step beneath the line above it. It and what lies '
                        .'beneath it were not taken in; the rest was.',
                    $name,
                    $n + 1,
                    $word,
                );
                $skippedFrom = $depth;
                continue;
            }
            $above = \array_slice($above, 0, $depth);
            try {
                $path = KeywordPath::of([...$above, $word]);
            } catch (KeywordRefused $e) {
                $problems[] = \sprintf(
                    '%s, line %d: %s It was not taken in; the rest was.',
                    $name,
                    $n + 1,
                    $e->getMessage(),
                );
                $skippedFrom = $depth;
                continue;
            }
            $above = $path->names;
            $keywords[] = new ListedKeyword($path);
        }

        return new self($keywords, $problems);
    }

    private static function csv(string $name, string $text): self
    {
        $handle = fopen('php://temp', 'w+');
        \assert(false !== $handle);
        fwrite($handle, $text);
        rewind($handle);
        $keywords = $problems = [];
        $columns = null;
        $line = 1;
        while (\is_array($row = fgetcsv($handle, null, ',', '"', ''))) {
            $at = $line;
            $line += 1 + substr_count(implode('', $row), "\n");
            $cells = array_map(static fn (?string $cell): string => trim($cell ?? ''), $row);
            if (null === $columns) {
                $columns = array_flip(array_map(strtolower(...), $cells));
                if (isset($columns['keyword'])) {
                    continue;
                }
                $columns = array_flip(self::COLUMNS);
            }
            $cell = static fn (string $column): string => $cells[$columns[$column] ?? -1] ?? '';
            if ('' === implode('', $cells)) {
                continue;
            }
            try {
                $keywords[] = new ListedKeyword(
                    KeywordPath::typed($cell('keyword')),
                    self::isYes($cell('heading')),
                    self::isYes($cell('private')),
                    '' === $cell('with_those_above') || self::isYes($cell('with_those_above')),
                    array_map(
                        KeywordPath::name(...),
                        array_values(
                            array_filter(
                                array_map(trim(...), explode(';', $cell('synonyms'))),
                                static fn (string $word): bool => '' !== $word,
                            ),
                        ),
                    ),
                );
            } catch (KeywordRefused $e) {
                $problems[] = \sprintf(
                    '%s, line %d: %s It was not taken in; the rest was.',
                    $name,
                    $at,
                    $e->getMessage(),
                );
            }
        }
        fclose($handle);

        return new self($keywords, $problems);
    }

    private static function utf8(string $bytes): ?string
    {
        $text = match (true) {
            str_starts_with($bytes, "\xEF\xBB\xBF") => substr($bytes, 3),
            str_starts_with($bytes, "\xFF\xFE") => mb_convert_encoding(substr($bytes, 2), 'UTF-8', 'UTF-16LE'),
            str_starts_with($bytes, "\xFE\xFF") => mb_convert_encoding(substr($bytes, 2), 'UTF-8', 'UTF-16BE'),
            default => $bytes,
        };

        return \is_string($text) && mb_check_encoding($text, 'UTF-8') && !str_contains($text, "\0") ? $text : null;
    }

    private static function yes(bool $is): string
    {
        return $is ? 'yes' : 'no';
    }

    private static function isYes(string $cell): bool
    {
        return \in_array(strtolower($cell), self::YES, true);
    }
}
