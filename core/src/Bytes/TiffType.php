<?php

declare(strict_types=1);

namespace Velvet\Core\Bytes;

/** Field types of TIFF 6.0, section 2, and the IFD type of TIFF Technical Note 1. */
enum TiffType: int
{
    case Byte = 1;
    case Ascii = 2;
    case Short = 3;
    case Long = 4;
    case Rational = 5;
    case SignedByte = 6;
    case Undefined = 7;
    case SignedShort = 8;
    case SignedLong = 9;
    case SignedRational = 10;
    case Float = 11;
    case Double = 12;
    case Ifd = 13;

    /** By their numbers. */
    private const WIDTHS = [1 => 1, 1, 2, 4, 8, 1, 1, 2, 4, 8, 4, 8, 4];

    /** @return int<1, 8> bytes of one value */
    public function width(): int
    {
        return self::WIDTHS[$this->value];
    }
}
