<?php

declare(strict_types=1);

namespace Velvet\Core\Copy;

use Velvet\Core\Bytes\Digests;
use Velvet\Core\Bytes\Fingerprint;

/** A file into which words were written while it came from its card. */
final readonly class WrittenFile
{
    /**
     * @param string       $proof digest of the picture's parts in the order in which they lie in the received file,
     *                            hexadecimal: the same is found in the copies
     * @param list<string> $notes sentences on what could not be written as it was asked for
     */
    public function __construct(
        public Digests $digests,
        public int $bytes,
        public Fingerprint $fingerprint,
        public string $proof,
        public array $notes,
    ) {
    }
}
