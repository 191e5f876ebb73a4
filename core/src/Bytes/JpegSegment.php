<?php

declare(strict_types=1);

namespace Velvet\Core\Bytes;

/** A segment of a JPEG before its first scan (ITU-T T.81, B.1.1.4). Offsets count from the start of the file. */
final readonly class JpegSegment
{
    /** The marker's two bytes and the two of the length. */
    public const HEADER = 4;

    /**
     * @param int              $marker its second byte
     * @param int              $start  offset of the marker, fill bytes not counted
     * @param int              $length bytes of the payload
     * @param JpegPayload|null $holds  what the payload is; null for what no standard here names
     */
    public function __construct(public int $marker, public int $start, public int $length, public ?JpegPayload $holds)
    {
    }

    /** Where the payload begins, its signature included. */
    public function payload(): int
    {
        return $this->start + self::HEADER;
    }

    /** Where what stands behind the signature begins. */
    public function content(): int
    {
        return $this->payload() + \strlen($this->holds?->signature() ?? '');
    }

    /** Bytes of what stands behind the signature. */
    public function contentLength(): int
    {
        return $this->length - \strlen($this->holds?->signature() ?? '');
    }

    /** Whether it is an application's (APP0 to APP15) or a comment, and so no part of the picture. */
    public function isBesidePicture(): bool
    {
        return ($this->marker >= 0xE0 && $this->marker <= 0xEF) || 0xFE === $this->marker;
    }

    /** The bytes of a segment. */
    public static function bytes(int $marker, string $payload): string
    {
        return "\xFF".\chr($marker).pack('n', \strlen($payload) + 2).$payload;
    }
}
