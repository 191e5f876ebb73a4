<?php

declare(strict_types=1);

namespace Velvet\Core\Card;

/**
 * Files that cameras and computers keep on a card for themselves and that hold no picture, sound or movie: a short list
 * by exact place and name, published in `docs/formats.md`. Anything else that is on a card stands against formatting it
 * until it is filed.
 *
 * A name alone proves nothing: what begins like a picture, a movie or sound is none of these, whatever it is called.
 *
 * Sources: DPOF 1.10 (`AUTPRINT.MRK`, from memory); the rest is common practice of operating systems and cameras.
 */
final class Housekeeping
{
    private const RULES = [
        'print order' => '~^MISC/AUTPRINT\.MRK$~i',
        'Windows index' => '~^System Volume Information/(?:IndexerVolumeGuid|WPSettings\.dat)$~i',
        'Windows folder view' => '~^(?:.*/)?desktop\.ini$~i',
        'macOS folder view' => '~^(?:.*/)?\.DS_Store$~',
        'macOS attributes' => '~^(?:.*/)?\._[^/]+$~',
        'macOS index' => '~^\.Spotlight-V100/VolumeConfiguration\.plist$~',
        'macOS event log' => '~^\.fseventsd/(?:fseventsd-uuid|no_log|[0-9a-f]{16})$~',
        'macOS mark' => '~^\.(?:metadata_never_index|com\.apple\.timemachine\.donotpresent|apdisk)$~',
        'Android mark' => '~^(?:.*/)?\.nomedia$~',
        'camera database' => '~^AVF_INFO/(?:AVIN\d{4}\.(?:BNP|INP|INT)|PRV\d{5}\.BIN)$~i',
        'camera index' => '~^PRIVATE/M4ROOT/(?:MEDIAPRO\.XML|STATUS\.BIN)$~i',
    ];

    /** More than this no such file has (our choice); a larger one is looked at by a person. */
    private const LARGEST = 8 * 1024 * 1024;
    /** AppleDouble (RFC 1740): what macOS lays beside a file of the same name. */
    private const APPLE_DOUBLE = "\x00\x05\x16\x07";
    private const ATTRIBUTES = 'macOS attributes';
    private const HEAD = 64;

    /**
     * The rule that a file falls under; null where it is none of these.
     *
     * @param string $root absolute: the card's
     */
    public static function rule(CardFile $file, string $root): ?string
    {
        foreach (self::RULES as $rule => $place) {
            if (1 === preg_match($place, $file->path)) {
                return $file->bytes <= self::LARGEST && self::holdsNothing($rule, $root.'/'.$file->path) ? $rule : null;
            }
        }

        return null;
    }

    /** @return array<string, string> the place and name of each, as a regular expression, by the rule's name */
    public static function rules(): array
    {
        return self::RULES;
    }

    private static function holdsNothing(string $rule, string $path): bool
    {
        $head = @file_get_contents($path, false, null, 0, self::HEAD);

        return match (true) {
            false === $head => false,
            self::ATTRIBUTES === $rule => str_starts_with($head, self::APPLE_DOUBLE),
            default => !self::beginsLikeAWork($head),
        };
    }

    /**
     * Whether a file begins as pictures, movies, sound or archives of them do (their specifications' signatures, from
     * memory).
     */
    private static function beginsLikeAWork(string $head): bool
    {
        $signatures = [
            "\xFF\xD8\xFF", "\x89PNG", 'GIF8', 'BM', 'II*', "MM\0*", 'IIU', 'IIRO', 'MMOR', "II\x1A\0", 'RIFF', 'RIFX',
            'RF64', 'FORM', 'FOVb', 'FUJIFILM', "\0MRM",
            '8BPS', "\0\0\0\x0CjP", "\xFF\x0A", "\0\0\0\x0CJXL", "\x1AE\xDF\xA3", "0&\xB2u", "\0\0\x01\xBA",
            "\0\0\x01\xB3", 'G@', 'OggS', 'fLaC', 'ID3', "\xFF\xFB", "\xFF\xF1",
            "\x06\x0E\x2B\x34", 'PK', 'Rar!', "7z\xBC\xAF", "\x1F\x8B",
        ];
        foreach ($signatures as $signature) {
            if (str_starts_with($head, $signature)) {
                return true;
            }
        }

        return \in_array(substr($head, 4, 4), ['ftyp', 'moov', 'mdat', 'wide', 'free', 'skip', 'pnot'], true);
    }
}
