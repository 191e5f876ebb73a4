<?php

declare(strict_types=1);

namespace Velvet\Core\Capture;

use Velvet\Core\Bytes\ByteRange;

/** What the segments of a JPEG told. */
final readonly class JpegShape
{
    /**
     * @param ByteRange|null $preview    a larger picture than the thumbnail, behind the first
     * @param int|null       $scan       where the first scan's data begins in the file; null where there is none
     * @param bool           $isLossless whether it is coded without loss (T.81, process 14): a raw file's samples, not
     *                                   a picture to show
     */
    public function __construct(
        public ?int $width,
        public ?int $height,
        public ?ByteRange $thumbnail,
        public ?ByteRange $preview,
        public ?int $scan,
        public bool $isLossless,
    ) {
    }
}
