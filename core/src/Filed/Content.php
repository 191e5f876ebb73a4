<?php

declare(strict_types=1);

namespace Velvet\Core\Filed;

use Velvet\Core\Bytes\Digest;
use Velvet\Core\Bytes\Digests;

/** What a file contains, to the last byte. */
final readonly class Content
{
    /** @param string|null $second a second digest where one was wanted: its name, a colon and hexadecimal digits */
    public function __construct(public Digest $digest, public int $bytes, public ?string $second = null)
    {
    }

    public static function of(Digests $digests, int $bytes): self
    {
        return new self($digests->content, $bytes, $digests->labelled()[1] ?? null);
    }
}
