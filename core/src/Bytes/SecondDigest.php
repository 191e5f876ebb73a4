<?php

declare(strict_types=1);

namespace Velvet\Core\Bytes;

/**
 * A second digest of each file, where the house style asks for one: cryptographic, so that it also stands against
 * intent.
 */
enum SecondDigest: string
{
    /** SHA-256 (FIPS 180-4); checked by `sha256sum -c`. */
    case Sha256 = 'sha256';
    /** BLAKE2b with 512 bits (RFC 7693); checked by `b2sum -c`. */
    case Blake2b = 'blake2b';

    private const BLAKE2B_BYTES = 64;

    /** Hexadecimal digits that it has. */
    public function digits(): int
    {
        return self::Sha256 === $this ? 64 : 2 * self::BLAKE2B_BYTES;
    }

    /** @return \HashContext|non-empty-string what {@see after()} and {@see finish()} take */
    public function begin(): \HashContext|string
    {
        return self::Sha256 === $this ? hash_init('sha256') : sodium_crypto_generichash_init('', self::BLAKE2B_BYTES);
    }

    /**
     * @param \HashContext|non-empty-string $state
     *
     * @return \HashContext|non-empty-string the state behind this chunk
     */
    public function after(\HashContext|string $state, string $chunk): \HashContext|string
    {
        if (\is_string($state)) {
            sodium_crypto_generichash_update($state, $chunk);
        } else {
            hash_update($state, $chunk);
        }

        return $state;
    }

    /** @param \HashContext|non-empty-string $state */
    public function finish(\HashContext|string $state): string
    {
        return \is_string($state)
            ? bin2hex(sodium_crypto_generichash_final($state, self::BLAKE2B_BYTES))
            : hash_final($state);
    }
}
