<?php

declare(strict_types=1);

namespace Velvet\Core\Copy;

use Velvet\Core\Bytes\Digest;
use Velvet\Core\Bytes\Digests;

/** What a copy proved. */
final readonly class CopiedFile
{
    /**
     * @param Digests          $received of what was read from the card
     * @param string|null      $picture  digest of the picture alone, hexadecimal; null where nobody asked, or it cannot
     *                                   be told
     * @param WrittenFile|null $written  what the copies contain instead, where words were written into them on the way
     */
    public function __construct(
        public Digests $received,
        public ?string $picture = null,
        public ?WrittenFile $written = null,
    ) {
    }

    /** Of what the copies contain. */
    public function digest(): Digest
    {
        return $this->written->digests->content ?? $this->received->content;
    }
}
