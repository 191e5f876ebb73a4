<?php

declare(strict_types=1);

namespace Velvet\Core\Bytes;

/**
 * Text in files that do not say how it is coded. What is UTF-8 is taken for that; else it is of one of the two code
 * pages that programs on desktops wrote (common practice): Windows-1252, of which ISO-8859-1 is a part but for control
 * characters, and Windows-1250.
 */
final class OlderText
{
    private const WESTERN = 'WINDOWS-1252';
    private const CENTRAL_EUROPEAN = 'CP1250';
    /** Signs that stand where only a letter would, as in “pó³ka” for “półka” or “£azienki” for “Łazienki”. */
    private const ODD = '/(?<=\p{L})[\p{S}\p{No}¿¡ªº](?=\p{L})|(?<![\p{L}\p{N}])[¿¡£¥¯](?=\p{Ll})/u';

    public static function utf8(string $bytes): string
    {
        return self::together([$bytes])[0];
    }

    /**
     * Texts that one program wrote, so that what cannot be told of one is told by the others.
     *
     * @param non-empty-list<string> $texts
     *
     * @return non-empty-list<string>
     */
    public static function together(array $texts): array
    {
        $western = self::decoded($texts, self::WESTERN);
        if ($western === $texts) {
            return $texts; // all of it is UTF-8
        }
        $central = self::decoded($texts, self::CENTRAL_EUROPEAN);

        return match (true) {
            null === $western && null === $central => array_map(
                static fn (string $text): string => mb_convert_encoding($text, 'UTF-8', 'ISO-8859-1'),
                $texts,
            ),
            null === $western => $central,
            null === $central || self::oddities($western) <= self::oddities($central) => $western,
            default => $central,
        };
    }

    /**
     * @param non-empty-list<string> $texts
     *
     * @return non-empty-list<string>|null null where a byte has no character there
     */
    private static function decoded(array $texts, string $codePage): ?array
    {
        $decoded = [];
        foreach ($texts as $text) {
            $text = mb_check_encoding($text, 'UTF-8') ? $text : @iconv($codePage, 'UTF-8', $text);
            if (false === $text) {
                return null;
            }
            $decoded[] = $text;
        }

        return $decoded;
    }

    /** @param list<string> $texts */
    private static function oddities(array $texts): int
    {
        return (int) preg_match_all(self::ODD, implode("\n", $texts));
    }
}
