<?php

declare(strict_types=1);

namespace Velvet\Core\Capture;

use Velvet\Core\Bytes\ByteRange;

/** The pictures that can be shown of a file. */
final readonly class EmbeddedPictures
{
    /**
     * @param ByteRange|null $thumbnail  a small embedded JPEG
     * @param ByteRange|null $preview    the largest embedded JPEG
     * @param bool           $isViewable whether common decoders can show the file itself
     * @param int            $shots      how many pictures it holds that are none of another, as for two eyes
     */
    public function __construct(
        public ?ByteRange $thumbnail = null,
        public ?ByteRange $preview = null,
        public bool $isViewable = false,
        public int $shots = 1,
    ) {
    }
}
