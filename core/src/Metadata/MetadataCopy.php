<?php

declare(strict_types=1);

namespace Velvet\Core\Metadata;

use Velvet\Core\Bytes\ByteRange;
use Velvet\Core\Bytes\FileBytes;
use Velvet\Core\Bytes\FileUnreadable;
use Velvet\Core\Bytes\RunningDigests;
use Velvet\Core\Bytes\StructureBroken;

/**
 * Makes a copy of a picture file that has other metadata, and shows that the picture in it is the same to the last
 * byte.
 */
final class MetadataCopy
{
    private const CHUNK = 1024 * 1024;

    /**
     * @param \Closure(string): void $write takes the new file, piece by piece
     * @param \Closure(): FileBytes  $again opens what was written, for the comparison
     *
     * @return list<string> sentences on what could not be written as it was asked for
     *
     * @throws StructureBroken when nothing may be written
     * @throws MetadataRefused when the picture in the new file is another one
     * @throws FileUnreadable
     */
    public static function of(
        PictureFile $kind,
        FileBytes $bytes,
        Metadata $metadata,
        History $history,
        \Closure $write,
        \Closure $again,
    ): array {
        $splice = $kind->with($bytes, $metadata, $history);
        foreach ($splice->pieces as $piece) {
            if (\is_string($piece)) {
                $write($piece);
                continue;
            }
            self::each($bytes, $piece, $write);
        }
        if (self::pictureDigest($kind, $bytes) !== self::pictureDigest($kind, $again())) {
            throw MetadataRefused::picture();
        }

        return $splice->notes;
    }

    /**
     * XXH128 of the picture's own bytes, hexadecimal.
     *
     * @throws StructureBroken
     */
    public static function pictureDigest(PictureFile $kind, FileBytes $bytes): string
    {
        $digests = new RunningDigests();
        foreach ($kind->picture($bytes) as $range) {
            self::each($bytes, $range, $digests->update(...));
        }

        return $digests->finished()->content->hex;
    }

    /** @param \Closure(string): void $take */
    private static function each(FileBytes $bytes, ByteRange $range, \Closure $take): void
    {
        for ($at = 0; $at < $range->length; $at += self::CHUNK) {
            $part = $bytes->read($range->offset + $at, min(self::CHUNK, $range->length - $at));
            if ('' === $part) {
                throw StructureBroken::because('it cannot be read to its end');
            }
            $take($part);
        }
    }
}
