<?php

declare(strict_types=1);

namespace Velvet\Core\Capture;

use Velvet\Core\Bytes\FileBytes;

/** Reads the facts of one kind of container. Every reader passes the same contract test (`CaptureReaderContract`). */
interface CaptureReader
{
    /** What a file that begins with these bytes is, where it is of a kind that this reader reads; else null. */
    public function recognises(string $head): ?Container;

    /**
     * The facts, as far as the file gives them. Damage is told in the facts' problems and never thrown.
     *
     * @param string $name the file's name, for sentences
     */
    public function read(FileBytes $bytes, string $name): CaptureFacts;
}
