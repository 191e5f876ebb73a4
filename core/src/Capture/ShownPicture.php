<?php

declare(strict_types=1);

namespace Velvet\Core\Capture;

use Velvet\Core\Bytes\ByteRange;

/** An encoded picture that common decoders show, as it lies in a file; nothing of it has been read. */
final readonly class ShownPicture
{
    /**
     * @param string      $path  absolute: the file
     * @param ByteRange   $range of the picture in it: a JPEG or another viewable format
     * @param Orientation $shown how it is shown in all
     * @param Orientation $turn  of that, what still has to be applied; nothing where the picture states its own
     * @param array{float, float}|null $focus where the camera focused, as shares of width and height of what is shown,
     *                                        from left and top; null where it is not known
     */
    public function __construct(
        public string $path,
        public ByteRange $range,
        public Orientation $shown,
        public Orientation $turn,
        public ?array $focus = null,
    ) {
    }
}
