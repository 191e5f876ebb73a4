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
        $head = @file_get_contents($path, false, null, 0, Signature::HEAD);

        return match (true) {
            false === $head => false,
            self::ATTRIBUTES === $rule => str_starts_with($head, self::APPLE_DOUBLE),
            default => !Signature::mayBeAWork($head),
        };
    }
}
