<?php

declare(strict_types=1);

namespace Velvet\Core\Capture;

use Velvet\Core\Bytes\FileBytes;

/** The XMP packet that stands in a picture of a kind that is never written into: HEIF, AVIF, WebP and JPEG XL. */
final class OwnPacket
{
    private const HEAD = 32;

    /** Null where there is none. */
    public static function of(FileBytes $bytes): ?string
    {
        $head = $bytes->read(0, self::HEAD);
        foreach ([new IsoMediaReader(), new RiffReader(), new JxlReader()] as $reader) {
            if (null !== $reader->recognises($head)) {
                return $reader->read($bytes, '')->packet;
            }
        }

        return null;
    }
}
