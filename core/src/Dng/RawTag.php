<?php

declare(strict_types=1);

namespace Velvet\Core\Dng;

/**
 * The tags that hold raw images and what belongs to them.
 *
 * Sources: [T] TIFF 6.0; [EP] TIFF/EP, ISO 12234-2; [D] DNG 1.7.1.
 */
final class RawTag
{
    public const NEW_SUBFILE_TYPE = 254;     // [T] LONG; 0 the image, 1 a smaller one
    public const WIDTH = 256;                // [T] SHORT or LONG
    public const LENGTH = 257;               // [T] SHORT or LONG
    public const BITS_PER_SAMPLE = 258;      // [T] SHORT, one for each plane
    public const COMPRESSION = 259;          // [T] SHORT; 1 none, 7 JPEG
    public const PHOTOMETRIC = 262;          // [T] SHORT; 6 YCbCr, 32803 colour filter array [EP], 34892 linear raw [D]
    public const FILL_ORDER = 266;           // [T] SHORT
    public const MAKE = 271;                 // [T] ASCII
    public const MODEL = 272;                // [T] ASCII
    public const STRIP_OFFSETS = 273;        // [T] LONG
    public const ORIENTATION = 274;          // [T] SHORT
    public const SAMPLES_PER_PIXEL = 277;    // [T] SHORT
    public const ROWS_PER_STRIP = 278;       // [T] LONG
    public const STRIP_BYTE_COUNTS = 279;    // [T] LONG
    public const PLANAR = 284;               // [T] SHORT; 1 the planes interleaved
    public const SOFTWARE = 305;             // [T] ASCII
    public const TILE_WIDTH = 322;           // [T] LONG
    public const TILE_LENGTH = 323;          // [T] LONG
    public const TILE_OFFSETS = 324;         // [T] LONG
    public const TILE_BYTE_COUNTS = 325;     // [T] LONG
    public const SUB_IFDS = 330;             // [EP] LONG
    public const XMP = 700;                  // [D] BYTE
    public const CFA_REPEAT = 33421;         // [EP] SHORT, 2: rows and columns
    public const CFA_PATTERN = 33422;        // [EP] BYTE
    public const EXIF_IFD = 34665;           // LONG
    public const GPS_IFD = 34853;            // LONG
    public const VERSION = 50706;            // [D] BYTE, 4
    public const BACKWARD_VERSION = 50707;   // [D] BYTE, 4
    public const UNIQUE_CAMERA_MODEL = 50708; // [D] ASCII
    public const CFA_PLANE_COLOR = 50710;    // [D] BYTE
    public const CFA_LAYOUT = 50711;         // [D] SHORT; 1 rectangular
    public const BLACK_REPEAT = 50713;       // [D] SHORT, 2: rows and columns
    public const BLACK_LEVEL = 50714;        // [D] SHORT, LONG or RATIONAL
    public const WHITE_LEVEL = 50717;        // [D] SHORT or LONG
    public const DEFAULT_SCALE = 50718;      // [D] RATIONAL, 2
    public const CROP_ORIGIN = 50719;        // [D] SHORT, LONG or RATIONAL, 2
    public const CROP_SIZE = 50720;          // [D] SHORT, LONG or RATIONAL, 2
    public const COLOR_MATRIX_1 = 50721;     // [D] SRATIONAL, 9
    public const AS_SHOT_NEUTRAL = 50728;    // [D] RATIONAL, 3
    public const BASELINE_EXPOSURE = 50730;  // [D] SRATIONAL
    public const ILLUMINANT_1 = 50778;       // [D] SHORT; 21 is D65
    public const RAW_DATA_UNIQUE_ID = 50781; // [D] BYTE, 16
    public const ORIGINAL_NAME = 50827;      // [D] ASCII or BYTE, UTF-8
    public const ORIGINAL_DATA = 50828;      // [D] UNDEFINED
    public const ACTIVE_AREA = 50829;        // [D] SHORT or LONG, 4: top, left, bottom, right
    public const MASKED_AREAS = 50830;       // [D] SHORT or LONG, 4 for each
    public const RAW_IMAGE_DIGEST = 50972;   // [D] BYTE, 16
    public const ORIGINAL_DIGEST = 50973;    // [D] BYTE, 16
}
