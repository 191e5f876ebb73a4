<?php

declare(strict_types=1);

namespace Velvet\Core\Capture;

/** What a file is by its content. */
enum Container
{
    case Jpeg;
    case Tiff;
    case Heif;
    case Cr3;
    case Raf;
    case Crw;
    case Mrw;
    case X3f;
    case Png;
    case Webp;
    case Jxl;
    case Movie;
    case Avi;
    case Wav;
    case Xmp;

    /**
     * Extensions by content, in lower case (common practice). Every raw file that is not named here is built on TIFF.
     */
    private const EXTENSIONS = [
        'Jpeg' => ['jpg', 'jpeg', 'jpe', 'mpo', 'thm'],
        'Heif' => ['heic', 'heif', 'hif', 'avif'],
        'Cr3' => ['cr3', 'raw'],
        'Raf' => ['raf', 'raw'],
        'Crw' => ['crw', 'raw'],
        'Mrw' => ['mrw', 'raw'],
        'X3f' => ['x3f', 'raw'],
        'Png' => ['png'],
        'Webp' => ['webp'],
        'Jxl' => ['jxl'],
        'Movie' => ['mov', 'mp4', 'm4v', '3gp', 'm4a'],
        'Avi' => ['avi'],
        'Wav' => ['wav'],
        'Xmp' => ['xmp'],
    ];

    /** Whether a file of this content may be called so. No extension says nothing that could be wrong. */
    public function goesBy(string $extension): bool
    {
        $extension = strtolower($extension);
        if ('' === $extension || \in_array($extension, self::EXTENSIONS[$this->name] ?? [], true)) {
            return true;
        }

        return self::Tiff === $this
            && ('raw' === $extension || !\in_array($extension, array_merge(...array_values(self::EXTENSIONS)), true));
    }

    /** As it stands in a sentence: “holds …”. */
    public function phrase(): string
    {
        return match ($this) {
            self::Jpeg => 'a JPEG',
            self::Tiff => 'a TIFF or a raw file built on it',
            self::Heif => 'an HEIF picture',
            self::Cr3, self::Raf, self::Crw, self::Mrw, self::X3f => 'a raw file of another kind',
            self::Png => 'a PNG',
            self::Webp => 'a WebP picture',
            self::Jxl => 'a JPEG XL picture',
            self::Movie, self::Avi => 'a movie',
            self::Wav => 'a sound file',
            self::Xmp => 'an XMP sidecar',
        };
    }
}
