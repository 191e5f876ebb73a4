<?php

declare(strict_types=1);

namespace Velvet\Core\Bytes;

/** The digests of one file's content: XXH128 always, a second one where it was asked for. */
final readonly class Digests
{
    /** @param string|null $second hexadecimal */
    public function __construct(
        public Digest $content,
        public ?SecondDigest $kind = null,
        public ?string $second = null,
    ) {
    }

    /** @return list<string> as receipts write them: the name, a colon and hexadecimal digits */
    public function labelled(): array
    {
        return null === $this->kind || null === $this->second
            ? [$this->content->labelled()]
            : [$this->content->labelled(), $this->kind->value.':'.$this->second];
    }
}
