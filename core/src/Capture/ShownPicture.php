<?php

declare(strict_types=1);

namespace Velvet\Core\Capture;

/** An encoded picture that common decoders show, taken out of a file as it is. */
final readonly class ShownPicture
{
    /**
     * @param string    $encoded  a JPEG or another viewable format
     * @param int<1, 8> $turn     EXIF orientation that still has to be applied; 1 where the picture states its own
     */
    public function __construct(public string $encoded, public int $turn)
    {
    }
}
