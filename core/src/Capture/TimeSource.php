<?php

declare(strict_types=1);

namespace Velvet\Core\Capture;

/** Where the capture time was read, best first. */
enum TimeSource: string
{
    case ExifOriginal = 'exif_original';
    case ExifDigitized = 'exif_digitized';
    case Xmp = 'xmp';
    case Iim = 'iim';
    case MovieHeader = 'movie_header';
    case SoundHeader = 'sound_header';
    case FileTime = 'file_time';

    /** Whether the camera itself wrote this time into the picture. */
    public function isCertain(): bool
    {
        return self::FileTime !== $this;
    }
}
