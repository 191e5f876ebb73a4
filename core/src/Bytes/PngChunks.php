<?php

declare(strict_types=1);

namespace Velvet\Core\Bytes;

/** The chunks of a PNG (ISO/IEC 15948, 5.2 and 5.3). */
final readonly class PngChunks
{
    public const SIGNATURE = "\x89PNG\r\n\x1A\n";
    public const HEADER = 'IHDR';
    public const TEXT = 'iTXt';
    private const END = 'IEND';
    private const MOST = 1_000_000;
    private const PROFILES = ['tEXt', 'zTXt'];
    private const LONGEST_PROFILE = 1_000_000; // bytes
    /**
     * Keyword of the text that is an XMP packet; then come no compression, no language, no translated keyword
     * (ISO 16684-3, 1.1.5).
     */
    public const XMP = "XML:com.adobe.xmp\0\0\0\0\0";

    /**
     * @param list<PngChunk> $chunks as far as they are whole
     * @param string|null    $fault  what is wrong, in words, as {@see StructureBroken} has it
     */
    private function __construct(private FileBytes $bytes, public array $chunks, public ?string $fault)
    {
    }

    public static function of(FileBytes $bytes): self
    {
        if (self::SIGNATURE !== $bytes->read(0, \strlen(self::SIGNATURE))) {
            return new self($bytes, [], 'it does not begin as a PNG does');
        }
        $chunks = [];
        $at = \strlen(self::SIGNATURE);
        while ($at < $bytes->size() && \count($chunks) < self::MOST) {
            $head = $bytes->read($at, 8);
            $chunk = new PngChunk(substr($head, 4), $at, TiffBlock::number($head, 0, 4, false));
            if (\strlen($head) < 8 || $chunk->end() > $bytes->size()) {
                break;
            }
            $chunks[] = $chunk;
            $at = $chunk->end();
            if (self::END === $chunk->type) {
                return new self($bytes, $chunks, null);
            }
        }

        return new self($bytes, $chunks, 'its chunks break off');
    }

    /**
     * @return list<PngChunk> all of them
     *
     * @throws StructureBroken
     */
    public function whole(): array
    {
        return null === $this->fault ? $this->chunks : throw StructureBroken::because($this->fault);
    }

    public function holdsXmp(PngChunk $chunk): bool
    {
        return self::TEXT === $chunk->type && self::XMP === $this->bytes->read($chunk->data(), \strlen(self::XMP));
    }

    /**
     * A profile that is kept as text (common practice of several programs): after the keyword `Raw profile type NAME`
     * come a line with its name, one with its length, and its bytes in hexadecimal digits; in `tEXt`, or compressed in
     * `zTXt` (ISO/IEC 15948, 11.3.4).
     *
     * @return string|null null where there is none that is whole
     */
    public function profile(string ...$names): ?string
    {
        foreach ($this->chunks as $chunk) {
            if (!\in_array($chunk->type, self::PROFILES, true)) {
                continue;
            }
            $content = explode("\0", $this->bytes->read($chunk->data(), min($chunk->length, self::LONGEST_PROFILE)), 2);
            $isMeant = [] !== array_filter(
                $names,
                static fn (string $name): bool => 'Raw profile type '.$name === $content[0],
            );
            $text = $content[1] ?? '';
            if ($isMeant && 'zTXt' === $chunk->type) { // one byte says by which method
                $text = (string) @gzuncompress(substr($text, 1), 2 * self::LONGEST_PROFILE);
            }
            if ($isMeant && 1 === preg_match('/^\s*\S+\s+(\d+)\s+([0-9a-f\s]+)$/i', $text, $found)) {
                $profile = (string) @hex2bin((string) preg_replace('/\s+/', '', $found[2]));
                if ((int) $found[1] === \strlen($profile)) {
                    return $profile;
                }
            }
        }

        return null;
    }

    /** The first XMP packet; null where there is none. */
    public function xmp(): ?string
    {
        foreach ($this->chunks as $chunk) {
            if ($this->holdsXmp($chunk)) {
                return $this->bytes->read(
                    $chunk->data() + \strlen(self::XMP),
                    $chunk->length - \strlen(self::XMP),
                );
            }
        }

        return null;
    }
}
