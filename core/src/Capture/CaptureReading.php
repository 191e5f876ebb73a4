<?php

declare(strict_types=1);

namespace Velvet\Core\Capture;

use Velvet\Core\Bytes\Fingerprint;

/** One file, read: its facts, its fingerprint (null where it could not be opened), and how many bytes that took. */
final readonly class CaptureReading
{
    public function __construct(public CaptureFacts $facts, public ?Fingerprint $fingerprint, public int $bytesRead)
    {
    }
}
