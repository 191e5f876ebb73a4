<?php

declare(strict_types=1);

namespace Velvet\Core\Metadata;

use Velvet\Core\Bytes\ByteRange;
use Velvet\Core\Bytes\FileBytes;
use Velvet\Core\Bytes\StructureBroken;

/** A kind of file that can hold metadata without its picture being touched. */
interface PictureFile
{
    /**
     * How the file is made anew with other metadata.
     *
     * @throws StructureBroken when that cannot be done without a risk to what is there
     */
    public function with(FileBytes $bytes, Metadata $metadata, History $history): Splice;

    /** @throws StructureBroken */
    public function read(FileBytes $bytes): Metadata;

    /**
     * Where the picture's own bytes lie: everything that {@see with()} must leave as it is.
     *
     * @return list<ByteRange>
     *
     * @throws StructureBroken
     */
    public function picture(FileBytes $bytes): array;
}
