<?php

declare(strict_types=1);

namespace Velvet\Core\Bytes;

/**
 * The image resources of an APP13 segment (Photoshop File Formats Specification, “Image Resource Blocks”, from memory):
 * signature, number (big-endian, 2 bytes), a Pascal string padded to even length, size (4 bytes), data padded to even
 * length. All but the IIM block and its digest stay as they are, byte for byte.
 */
final class ImageResources
{
    private const OURS = '8BIM';
    /** Other programs sign theirs otherwise (common practice). */
    private const SIGNATURES = [self::OURS, 'AgHg', 'DCSR', 'PHUT', 'MeSa'];
    private const IIM = 0x0404;
    /**
     * MD5 of the IIM block, by which readers tell whether it was changed by a program that knows no XMP (MWG guidelines
     * 2.0, 3.4).
     */
    private const IIM_DIGEST = 0x0425;

    /**
     * @param list<array{int|null, string, string}> $resources number, null for those of other programs; the whole of it
     *                                                         as it stands in the file; its data
     * @param string                                $rest      what lies behind the last one
     */
    private function __construct(private array $resources, private readonly string $rest)
    {
    }

    /** @throws StructureBroken when it breaks off */
    public static function read(string $bytes): self
    {
        $resources = [];
        $at = 0;
        while (\in_array($signature = substr($bytes, $at, 4), self::SIGNATURES, true)) {
            $name = 1 + \ord($bytes[$at + 6] ?? "\0");
            $data = $at + 6 + $name + $name % 2 + 4;
            $size = TiffBlock::number($bytes, $data - 4, 4, false);
            $end = $data + $size;
            if ($end > \strlen($bytes)) {
                throw StructureBroken::because('its image resources (APP13) break off');
            }
            // some programs forget to pad
            $isPadded = 1 === $size % 2 && !\in_array(substr($bytes, $end, 4), self::SIGNATURES, true);
            $next = min(\strlen($bytes), $end + ($isPadded ? 1 : 0));
            $resources[] = [
                self::OURS === $signature ? TiffBlock::number($bytes, $at + 4, 2, false) : null,
                substr($bytes, $at, $next - $at),
                substr($bytes, $data, $size),
            ];
            $at = $next;
        }

        return new self($resources, substr($bytes, $at));
    }

    public function iim(): string
    {
        foreach ($this->resources as [$number, , $data]) {
            if (self::IIM === $number) {
                return $data;
            }
        }

        return '';
    }

    public function setIim(string $bytes): void
    {
        $this->set(self::IIM, $bytes);
        $this->set(self::IIM_DIGEST, '' === $bytes ? '' : md5($bytes, true));
    }

    public function bytes(): string
    {
        return implode('', array_column($this->resources, 1)).$this->rest;
    }

    private function set(int $number, string $data): void
    {
        $places = array_keys(array_column($this->resources, 0), $number, true);
        $new = '' === $data ? [] : [[
            $number,
            self::OURS.pack('n', $number)."\0\0".pack('N', \strlen($data)).$data.str_repeat("\0", \strlen($data) % 2),
            $data,
        ]];
        array_splice($this->resources, $places[0] ?? \count($this->resources), [] === $places ? 0 : 1, $new);
    }
}
