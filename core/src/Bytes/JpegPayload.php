<?php

declare(strict_types=1);

namespace Velvet\Core\Bytes;

/** What a JPEG's application segment holds, as the signature at the beginning of its payload says. */
enum JpegPayload
{
    /** A TIFF structure (EXIF 2.32, 4.7.2). */
    case Exif;
    /** A packet (ISO 16684-3, 1.1.3). */
    case Xmp;
    /** A part of a packet that is too long for one segment (ISO 16684-3, 1.1.3.1). */
    case ExtendedXmp;
    /** Image resources, the IIM block among them; they may go on in further segments. */
    case Resources;
    /** The index of more pictures behind the first, a TIFF structure (CIPA DC-007, 5.2). */
    case MultiPicture;

    /** Bytes of the longest signature. */
    public const LONGEST = 35;

    public static function of(int $marker, string $payload): ?self
    {
        $kinds = match ($marker) { // most segments are none of these, and a card has very many
            0xE1 => [self::Exif, self::Xmp, self::ExtendedXmp],
            0xE2 => [self::MultiPicture],
            0xED => [self::Resources],
            default => [],
        };
        foreach ($kinds as $kind) {
            if (str_starts_with($payload, $kind->signature())) {
                return $kind;
            }
        }

        return null;
    }

    public function marker(): int
    {
        return match ($this) {
            self::Exif, self::Xmp, self::ExtendedXmp => 0xE1, // APP1
            self::MultiPicture => 0xE2,
            self::Resources => 0xED, // APP13
        };
    }

    public function signature(): string
    {
        return match ($this) {
            self::Exif => "Exif\0\0",
            self::Xmp => "http://ns.adobe.com/xap/1.0/\0",
            self::ExtendedXmp => "http://ns.adobe.com/xmp/extension/\0",
            self::Resources => "Photoshop 3.0\0",
            self::MultiPicture => "MPF\0",
        };
    }
}
