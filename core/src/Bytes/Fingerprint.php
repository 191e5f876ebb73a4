<?php

declare(strict_types=1);

namespace Velvet\Core\Bytes;

/**
 * A cheap likeness of a file's content: its size and samples from its start, middle and end, hashed with XXH128.
 * Equal files have equal fingerprints; files of unequal fingerprints differ. Equal fingerprints prove nothing:
 * {@see Digest} does.
 */
final readonly class Fingerprint
{
    /** Bytes of each sample. */
    public const SAMPLE = 8 * 1024;

    private function __construct(public string $hex)
    {
    }

    public static function of(FileBytes $bytes): self
    {
        return self::ofSamples(
            $bytes->size(),
            array_map(
                static fn (int $offset): string => $bytes->read($offset, self::SAMPLE),
                self::offsets($bytes->size()),
            ),
        );
    }

    /** Of the file at a path, hexadecimal; empty where it cannot be read. */
    public static function ofPath(string $path): string
    {
        try {
            return self::of(FileBytes::open($path))->hex;
        } catch (FileUnreadable) {
            return '';
        }
    }

    /** @return array{int, int, int} where the samples of a file of this size begin */
    public static function offsets(int $size): array
    {
        $last = max(0, $size - self::SAMPLE);

        return [0, intdiv($last, 2), $last];
    }

    /** @param array<string> $samples one for each of {@see offsets()} */
    public static function ofSamples(int $size, array $samples): self
    {
        return new self(hash('xxh128', pack('J', $size).implode('', $samples)));
    }

    public function equals(self $other): bool
    {
        return $this->hex === $other->hex;
    }

    /** @param string $hex 32 hexadecimal digits, as {@see of()} gave them */
    public static function fromHex(string $hex): self
    {
        return new self($hex);
    }
}
