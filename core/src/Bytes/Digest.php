<?php

declare(strict_types=1);

namespace Velvet\Core\Bytes;

/** The whole content of a file in 128 bits: XXH128 (xxHash specification, canonical big-endian hexadecimal form). */
final readonly class Digest
{
    public const ALGORITHM = 'xxh128';
    private const CHUNK = 1024 * 1024;

    private function __construct(public string $hex)
    {
    }

    /** @throws \ValueError when $hex is not 32 hexadecimal digits */
    public static function fromHex(string $hex): self
    {
        if (1 !== preg_match('/^[0-9a-f]{32}$/', $hex)) {
            throw new \ValueError(\sprintf('“%s” is not an XXH128 digest of 32 hexadecimal digits.', $hex));
        }

        return new self($hex);
    }

    public static function ofBytes(string $bytes): self
    {
        return new self(hash(self::ALGORITHM, $bytes));
    }

    /**
     * @param \Closure(string): void|null $onChunk is given the bytes read since the last call
     *
     * @throws FileUnreadable
     */
    public static function ofFile(string $path, ?\Closure $onChunk = null): self
    {
        error_clear_last();
        $handle = @fopen($path, 'r');
        if (false === $handle) {
            throw FileUnreadable::at($path, SystemReason::last());
        }
        stream_set_read_buffer($handle, 0);
        $digests = new RunningDigests();
        while (!feof($handle)) {
            $chunk = @fread($handle, self::CHUNK);
            if (false === $chunk) {
                fclose($handle);
                throw FileUnreadable::at($path, SystemReason::last());
            }
            $digests->update($chunk);
            if (null !== $onChunk) {
                $onChunk($chunk);
            }
        }
        fclose($handle);

        return $digests->finished()->content;
    }

    /** Whether a file is there with this content. */
    public function isOfFile(string $path): bool
    {
        try {
            return is_file($path) && self::ofFile($path)->equals($this);
        } catch (FileUnreadable) {
            return false;
        }
    }

    public function equals(self $other): bool
    {
        return $this->hex === $other->hex;
    }

    /** As receipts write it: `xxh128:` and 32 hexadecimal digits. */
    public function labelled(): string
    {
        return self::ALGORITHM.':'.$this->hex;
    }
}
