<?php

declare(strict_types=1);

namespace Velvet\Core\Duplicate;

use Velvet\Core\Capture\FileBytes;

/**
 * A cheap likeness of a file's content: its size and samples from its start, middle and end, hashed with XXH128.
 * Equal files have equal fingerprints; files of unequal fingerprints differ. Equal fingerprints prove nothing: {@see Digest} does.
 */
final readonly class Fingerprint
{
    private const SAMPLE = 8 * 1024;

    private function __construct(public string $hex)
    {
    }

    public static function of(FileBytes $bytes): self
    {
        $size = $bytes->size();
        $hash = hash_init('xxh128');
        hash_update($hash, pack('J', $size));
        hash_update($hash, $bytes->read(0, self::SAMPLE));
        hash_update($hash, $bytes->read(intdiv(max(0, $size - self::SAMPLE), 2), self::SAMPLE));
        hash_update($hash, $bytes->read(max(0, $size - self::SAMPLE), self::SAMPLE));

        return new self(hash_final($hash));
    }

    /** @param string $hex 32 hexadecimal digits, as {@see of()} gave them */
    public static function fromHex(string $hex): self
    {
        return new self($hex);
    }
}
