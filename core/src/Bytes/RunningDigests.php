<?php

declare(strict_types=1);

namespace Velvet\Core\Bytes;

/** The digests of content that comes piece by piece. */
final class RunningDigests
{
    private readonly \HashContext $hash;
    /** @var \HashContext|non-empty-string|null */
    private \HashContext|string|null $state;
    private int $bytes = 0;

    /** @param SecondDigest|null $second beside XXH128, where one is wanted */
    public function __construct(private readonly ?SecondDigest $second = null)
    {
        $this->hash = hash_init(Digest::ALGORITHM);
        $this->state = $second?->begin();
    }

    public function update(string $chunk): void
    {
        hash_update($this->hash, $chunk);
        if (null !== $this->state && null !== $this->second) {
            $this->state = $this->second->after($this->state, $chunk);
        }
        $this->bytes += \strlen($chunk);
    }

    /** How many bytes came so far. */
    public function bytes(): int
    {
        return $this->bytes;
    }

    /** Of all that came; nothing more is taken then. */
    public function finished(): Digests
    {
        return new Digests(
            Digest::fromHex(hash_final($this->hash)),
            $this->second,
            null === $this->state ? null : $this->second?->finish($this->state),
        );
    }
}
