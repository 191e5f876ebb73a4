<?php

declare(strict_types=1);

namespace Velvet\Core\Capture;

/** Reads the facts of one kind of container. Every reader passes the same contract test (`CaptureReaderContract`). */
interface CaptureReader
{
    /** Whether a file that begins with these bytes is of this reader's kind. */
    public function recognises(string $head): bool;

    /**
     * The facts, as far as the file gives them. Damage is told in the facts' problems and never thrown.
     *
     * @param string $name the file's name, for sentences
     */
    public function read(FileBytes $bytes, string $name): CaptureFacts;
}
