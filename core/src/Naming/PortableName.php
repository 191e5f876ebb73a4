<?php

declare(strict_types=1);

namespace Velvet\Core\Naming;

/**
 * Makes text safe as one name on every common file system and for every editor.
 *
 * Characters and names that FAT, exFAT, NTFS, APFS or ext4 refuse or that programs trip over (common practice):
 * `< > : " / \ | ? *`, control characters, blanks or dots at the end, device names such as CON; at most 255 bytes.
 * Text is in Unicode NFC (UAX #15).
 */
final class PortableName
{
    /**
     * Bytes of a name on common file systems (POSIX NAME_MAX on ext4; 255 UTF-16 units on NTFS and exFAT are never
     * fewer).
     */
    public const LONGEST = 255;

    private const DEVICES = '/^(con|prn|aux|nul|conin\$|conout\$|com[0-9¹²³]|lpt[0-9¹²³])(\..*)?$/iu';
    private const FIRST_OF_DEVICES = [
        'con' => true, 'prn' => true, 'aux' => true, 'nul' => true, 'com' => true, 'lpt' => true,
    ];

    /**
     * A folder's name as a person reads it. Forbidden characters become blanks or dashes; empty when nothing is left.
     *
     * @param int<1, 255> $longest in bytes
     */
    public static function readable(string $text, int $longest = self::LONGEST): string
    {
        if (ctype_alnum($text) && \strlen($text) <= $longest) {
            return self::isDevice($text) ? $text.'_' : $text;
        }
        $text = self::normal($text);
        $text = preg_replace(['~\s*[:|]\s*~u', '~[/\\\\]~u', '~[<>"?*]~u'], [' - ', '-', ''], $text) ?? '';
        // what stood between a letter and its accent may be gone: they are composed now
        $text = self::compose(preg_replace('~\s+~u', ' ', $text) ?? '');
        $text = trim(self::cut(trim($text), $longest), ' .-');

        return self::isDevice($text) ? $text.'_' : $text;
    }

    /** Letters and digits of every script kept, what is between them as one joint; apostrophes leave no gap. */
    public static function joined(string $text, string $joint): string
    {
        if (ctype_alnum($text)) { // the most usual case by far: nothing to join
            return $text;
        }
        $text = preg_replace('~[\'’]~u', '', self::normal($text)) ?? '';
        $text = preg_replace('~[^\p{L}\p{M}\p{N}]+~u', '' === $joint ? '' : "\0", $text) ?? '';

        return self::compose(str_replace("\0", $joint, trim($text, "\0")));
    }

    /** Text without the characters that no name may have; blanks at its ends stay. */
    public static function harmless(string $text): string
    {
        return preg_replace('~[<>:"/\\\\|?*]~u', '', self::normal($text)) ?? '';
    }

    /** A whole name made safe at its ends: no blank or dot there, no device's name. */
    public static function closed(string $name): string
    {
        $name = self::compose(trim(ltrim($name, '.'), ' '));
        $name = rtrim($name, ' .');

        return self::isDevice($name) ? $name.'_' : $name;
    }

    /**
     * The same for all names that differ only in letter case or composition: such names are one name on many drives.
     */
    public static function folded(string $name): string
    {
        return mb_check_encoding($name, 'ASCII')
            ? strtolower($name)
            : self::compose(mb_convert_case(self::compose($name), \MB_CASE_FOLD, 'UTF-8'));
    }

    private static function isDevice(string $name): bool
    {
        // names are made by the thousand, and hardly one begins like a device's
        return isset(self::FIRST_OF_DEVICES[strtolower(substr($name, 0, 3))]) && 1 === preg_match(self::DEVICES, $name);
    }

    private static function normal(string $text): string
    {
        $text = self::compose(mb_scrub($text, 'UTF-8'));

        return preg_replace('~[\p{Cc}\p{Cf}\p{Co}\p{Cn}]+~u', ' ', $text) ?? '';
    }

    private static function compose(string $text): string
    {
        if (mb_check_encoding($text, 'ASCII')) { // it is composed as it is
            return $text;
        }
        $composed = \Normalizer::normalize($text, \Normalizer::FORM_C);

        return \is_string($composed) ? $composed : $text;
    }

    /** At most so many bytes, whole letters with their marks. */
    public static function cut(string $text, int $longest): string
    {
        if (\strlen($text) <= $longest) {
            return $text;
        }
        $kept = grapheme_extract($text, $longest, \GRAPHEME_EXTR_MAXBYTES);

        return false === $kept ? mb_strcut($text, 0, $longest, 'UTF-8') : $kept;
    }
}
