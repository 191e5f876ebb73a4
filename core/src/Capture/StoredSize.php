<?php

declare(strict_types=1);

namespace Velvet\Core\Capture;

/** The full image as it is stored; what the file does not say is null. */
final readonly class StoredSize
{
    /**
     * @param int|null       $width       pixels, before it is turned
     * @param int<1, 8>|null $orientation EXIF/TIFF `Orientation`
     */
    public function __construct(
        public ?int $width = null,
        public ?int $height = null,
        public ?int $orientation = null,
    ) {
    }
}
