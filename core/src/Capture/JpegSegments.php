<?php

declare(strict_types=1);

namespace Velvet\Core\Capture;

/** What the segments of a JPEG told. */
final readonly class JpegSegments
{
    /** @param int|null $scan where the first scan's data begins in the file; null where there is none */
    public function __construct(public ?int $width, public ?int $height, public ?ByteRange $thumbnail, public ?int $scan)
    {
    }
}
