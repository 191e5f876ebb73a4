<?php

declare(strict_types=1);

namespace Velvet\Core\Card;

/**
 * What a file on a card is, told by its name. The values are those of the headless contract.
 *
 * The contract has no kinds for JPEG XL, JPEG 2000, WebP, GIF, BMP and PSD: they count as jpeg, png and tiff.
 *
 * Extensions of raw files are the makers' own (common practice); DCF 2.0 (CIPA DC-009) names JPG and THM.
 */
enum FileKind: string
{
    case Raw = 'raw';
    case Jpeg = 'jpeg';
    case Heif = 'heif';
    case Tiff = 'tiff';
    case Png = 'png';
    case Dng = 'dng';
    case Movie = 'movie';
    case Audio = 'audio';
    case Sidecar = 'sidecar';
    case Other = 'other';

    private const EXTENSIONS = [
        'raw' => ['3fr', 'arw', 'cr2', 'cr3', 'crw', 'dcr', 'erf', 'fff', 'gpr', 'iiq', 'kdc', 'mef', 'mos', 'mrw',
            'nef', 'nrw', 'orf', 'pef', 'raf', 'raw', 'rw2', 'rwl', 'sr2', 'srf', 'srw', 'trw', 'x3f'],
        'jpeg' => ['jpg', 'jpeg', 'jpe', 'jfif', 'mpo', 'insp', 'jxl', 'jp2', 'j2k', 'jpx'],
        'heif' => ['heic', 'heif', 'hif', 'avif'],
        'tiff' => ['tif', 'tiff', 'psd'],
        'png' => ['png', 'webp', 'gif', 'bmp'],
        'dng' => ['dng'],
        'movie' => ['mov', 'mp4', 'm4v', 'avi', 'mts', 'm2ts', 'm2t', 'ts', 'tod', 'mod', '3gp', 'mxf', 'mpg', 'mpeg',
            'm2v', 'vob', 'mkv', 'webm', 'wmv', 'dv', 'crm', 'nev', 'braw', 'r3d', 'insv', '360', 'lrv', 'lrf', 'glv'],
        'audio' => ['wav', 'mp3', 'm4a', 'aac', 'flac', 'ogg', 'opus', 'aif', 'aiff', 'caf', 'wma', 'amr'],
        'sidecar' => ['xmp', 'thm'],
    ];

    public static function ofName(string $name): self
    {
        static $byExtension = null;
        if (null === $byExtension) {
            $byExtension = [];
            foreach (self::EXTENSIONS as $kind => $extensions) {
                foreach ($extensions as $extension) {
                    $byExtension[$extension] = self::from($kind);
                }
            }
        }
        /** @var array<string, self> $byExtension */
        $dot = strrpos($name, '.');
        if (false === $dot || 0 === $dot) {
            return self::Other;
        }

        return $byExtension[strtolower(substr($name, $dot + 1))] ?? self::Other;
    }

    /** Whether a file of this kind is a picture that makes a frame. */
    public function isStill(): bool
    {
        return match ($this) {
            self::Raw, self::Jpeg, self::Heif, self::Tiff, self::Png, self::Dng => true,
            self::Movie, self::Audio, self::Sidecar, self::Other => false,
        };
    }

    /** Whether a file of this kind makes no frame by itself. */
    public function isLoose(): bool
    {
        return self::Sidecar === $this || self::Other === $this;
    }

    /** Whether a file of this kind makes a frame where it belongs to no picture. */
    public function isMovieOrSound(): bool
    {
        return self::Movie === $this || self::Audio === $this;
    }

    /**
     * Kinds as photographers write them: raw, JPEG. Movies and sound are told where there is no still.
     *
     * @param list<self> $kinds others are passed over
     *
     * @return list<string> each once
     */
    public static function inWords(array $kinds): array
    {
        $words = [];
        foreach ($kinds as $kind) {
            if ($kind->isStill()) {
                $words[$kind->value] = self::Raw === $kind ? 'raw' : strtoupper($kind->value);
            }
        }
        rsort($words);
        foreach ([] === $words ? $kinds : [] as $kind) {
            if ($kind->isMovieOrSound()) {
                $words[$kind->value] = self::Movie === $kind ? 'movie' : 'sound';
            }
        }

        return array_values($words);
    }

    /** The file whose facts stand for the frame comes first: the raw, if there is one. */
    public function rank(): int
    {
        return match ($this) {
            self::Raw => 0,
            self::Dng => 1,
            self::Heif => 2,
            self::Jpeg => 3,
            self::Tiff => 4,
            self::Png => 5,
            self::Movie => 6,
            self::Audio => 7,
            self::Sidecar => 8,
            self::Other => 9,
        };
    }
}
