<?php

declare(strict_types=1);

namespace Velvet\Core\Metadata;

/**
 * The image resources of an APP13 segment (Photoshop File Formats Specification, “Image Resource Blocks”, from memory):
 * signature `8BIM`, number (big-endian, 2 bytes), a Pascal string padded to even length, size (4 bytes), data padded to
 * even length. All but the IIM block and its digest stay as they are.
 */
final class ImageResources
{
    private const SIGNATURE = '8BIM';
    private const IIM = 0x0404;
    /**
     * MD5 of the IIM block, by which readers tell whether it was changed by a program that knows no XMP (MWG guidelines
     * 2.0, 3.4).
     */
    private const IIM_DIGEST = 0x0425;

    /** @param list<array{int, string, string}> $resources number, the name as it stands in the file, data */
    private function __construct(private array $resources)
    {
    }

    /** @throws MetadataRefused when it breaks off */
    public static function read(string $bytes): self
    {
        $resources = [];
        $at = 0;
        while (self::SIGNATURE === substr($bytes, $at, 4)) {
            $nameLength = \ord($bytes[$at + 6] ?? "\0");
            $name = substr($bytes, $at + 6, $nameLength + 1 + (0 === $nameLength % 2 ? 1 : 0));
            $start = $at + 6 + \strlen($name);
            $size = unpack('N', substr($bytes, $start, 4))[1] ?? null;
            if (!\is_int($size) || $start + 4 + $size > \strlen($bytes)) {
                throw MetadataRefused::structure('its image resources (APP13) break off');
            }
            $number = unpack('n', substr($bytes, $at + 4, 2))[1] ?? 0;
            $resources[] = [\is_int($number) ? $number : 0, $name, substr($bytes, $start + 4, $size)];
            $at = $start + 4 + $size + $size % 2;
        }

        return new self($resources);
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
        $bytes = '';
        foreach ($this->resources as [$number, $name, $data]) {
            $bytes .= self::SIGNATURE.pack('n', $number).$name.pack('N', \strlen($data)).$data.(1 === \strlen($data) % 2 ? "\0" : '');
        }

        return $bytes;
    }

    private function set(int $number, string $data): void
    {
        foreach ($this->resources as $i => $resource) {
            if ($resource[0] === $number) {
                if ('' === $data) {
                    array_splice($this->resources, $i, 1);
                } else {
                    $this->resources[$i][2] = $data;
                }

                return;
            }
        }
        if ('' !== $data) {
            $this->resources[] = [$number, "\0\0", $data];
        }
    }
}
