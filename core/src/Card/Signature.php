<?php

declare(strict_types=1);

namespace Velvet\Core\Card;

/**
 * What a file is by how it begins, whatever it is called.
 *
 * Sources, from memory: JPEG (ITU T.81, SOI), PNG (W3C, 5.2), TIFF 6.0 and the raw formats built like it, BMP, GIF89a,
 * JPEG 2000 (15444-1, annex I), JPEG XL (18181-2), ISO 14496-12 (`ftyp` and its brands), RIFF and RF64 (EBU Tech 3306),
 * MPEG-1/2 systems (13818-1), Matroska, ASF, MXF (SMPTE 377), Ogg, FLAC, ID3, ADTS, AIFF, CAF, AMR.
 */
final class Signature
{
    /** Bytes that {@see self::kind()} looks at. */
    public const HEAD = 512;

    private const KINDS = [
        "\xFF\xD8\xFF" => FileKind::Jpeg, "\0\0\0\x0CjP" => FileKind::Jpeg, "\xFF\x0A" => FileKind::Jpeg,
        "\0\0\0\x0CJXL" => FileKind::Jpeg,
        "\x89PNG" => FileKind::Png, 'GIF8' => FileKind::Png,
        "II*\0" => FileKind::Tiff, "MM\0*" => FileKind::Tiff, "II+\0" => FileKind::Tiff, "MM\0+" => FileKind::Tiff,
        '8BPS' => FileKind::Tiff,
        "IIU\0" => FileKind::Raw, 'IIRO' => FileKind::Raw, 'IIRS' => FileKind::Raw, 'MMOR' => FileKind::Raw,
        "II\x1A\0" => FileKind::Raw, 'FOVb' => FileKind::Raw, 'FUJIFILM' => FileKind::Raw, "\0MRM" => FileKind::Raw,
        "\x1AE\xDF\xA3" => FileKind::Movie, "0&\xB2u" => FileKind::Movie, "\0\0\x01\xBA" => FileKind::Movie,
        "\0\0\x01\xB3" => FileKind::Movie, "\x06\x0E\x2B\x34" => FileKind::Movie,
        'OggS' => FileKind::Audio, 'fLaC' => FileKind::Audio, 'ID3' => FileKind::Audio, "\xFF\xFB" => FileKind::Audio,
        "\xFF\xF3" => FileKind::Audio, "\xFF\xF1" => FileKind::Audio, "\xFF\xF9" => FileKind::Audio,
        'caff' => FileKind::Audio, '#!AMR' => FileKind::Audio,
    ];
    /** `ftyp` brands; every other one is a movie's. */
    private const BRANDS = [
        'heic' => FileKind::Heif, 'heix' => FileKind::Heif, 'heim' => FileKind::Heif, 'heis' => FileKind::Heif,
        'hevc' => FileKind::Heif, 'mif1' => FileKind::Heif, 'msf1' => FileKind::Heif, 'avif' => FileKind::Heif,
        'avis' => FileKind::Heif,
        'crx ' => FileKind::Raw,
        'M4A ' => FileKind::Audio, 'M4B ' => FileKind::Audio,
    ];
    private const BOXES = ['moov', 'mdat', 'wide', 'free', 'skip', 'pnot'];
    private const CHUNKED = ['RIFF', 'RIFX', 'RF64', 'BW64', 'FORM'];
    private const FORMS = [
        'WAVE' => FileKind::Audio, 'AIFF' => FileKind::Audio, 'AIFC' => FileKind::Audio, 'AVI ' => FileKind::Movie,
        'WEBP' => FileKind::Png,
    ];
    private const ARCHIVES = ['PK', 'Rar!', "7z\xBC\xAF", "\x1F\x8B"];
    /** MPEG transport streams: packets of 188 bytes, each begins with this; AVCHD lays four bytes before each. */
    private const SYNC = "\x47";

    /** @param string $head the first bytes of a file, {@see self::HEAD} of them where it has so many */
    public static function kind(string $head): ?FileKind
    {
        foreach (self::KINDS as $signature => $kind) {
            if (str_starts_with($head, $signature)) {
                return $kind;
            }
        }

        return match (true) {
            'ftyp' === substr($head, 4, 4) => self::BRANDS[substr($head, 8, 4)] ?? FileKind::Movie,
            \in_array(substr($head, 4, 4), self::BOXES, true) => FileKind::Movie,
            \in_array(substr($head, 0, 4), self::CHUNKED, true) => self::FORMS[substr($head, 8, 4)] ?? null,
            str_starts_with($head, 'BM') && "\0\0\0\0" === substr($head, 6, 4) => FileKind::Png,
            self::SYNC === ($head[0] ?? '') && self::SYNC === ($head[188] ?? ''),
            self::SYNC === ($head[4] ?? '') && self::SYNC === ($head[196] ?? '') => FileKind::Movie,
            default => null,
        };
    }

    /**
     * Whether it begins as pictures, movies, sound or archives of them do, or perhaps does: what nobody made has none
     * of these beginnings.
     */
    public static function mayBeAWork(string $head): bool
    {
        foreach (['BM', 'II*', 'IIU', self::SYNC.'@', ...self::CHUNKED, ...self::ARCHIVES] as $signature) {
            if (str_starts_with($head, $signature)) {
                return true;
            }
        }

        return null !== self::kind($head);
    }
}
