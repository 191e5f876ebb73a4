<?php

declare(strict_types=1);

namespace Velvet\Core\Dng;

use Velvet\Core\Bytes\TiffWriter;

/** What a raw file says beside its samples: its fields, by tag, as TIFF has them, and the camera's own pictures. */
final readonly class RawFields
{
    /**
     * @param array<int, array{int, mixed}>  $first type and value (bytes little-endian, or as {@see TiffWriter} takes
     *                                              them), of the picture as a whole
     * @param array<int, array{int, string}> $exif
     * @param array<int, array{int, string}> $gps
     * @param array<int, array{int, string}> $raw   of the raw image
     * @param list<string>                   $jpegs embedded JPEG files, the largest first
     */
    public function __construct(
        public array $first = [],
        public array $exif = [],
        public array $gps = [],
        public array $raw = [],
        public array $jpegs = [],
    ) {
    }

    /** A text of the first directory, without what fills it up; empty where there is none. */
    public function text(int $tag): string
    {
        $value = $this->first[$tag][1] ?? '';

        return \is_string($value) ? trim(explode("\0", $value)[0]) : '';
    }
}
