<?php

declare(strict_types=1);

namespace Velvet\Core\Capture;

/**
 * The tags that are read, by number.
 *
 * Sources: [T] TIFF 6.0; [EP] TIFF/EP, ISO 12234-2; [X] EXIF 2.32, CIPA DC-008; [D] DNG 1.7.1. `Rating` is common
 * practice.
 */
final class ExifTag
{
    public const RW2_SENSOR_WIDTH = 0x0002;      // SHORT, in directory 0 of RW2 (well known)
    public const RW2_SENSOR_HEIGHT = 0x0003;     // SHORT
    /** SHORTs: first row and column of the picture, and those behind its last ones. */
    public const RW2_TOP = 0x0004;
    public const RW2_LEFT = 0x0005;
    public const RW2_BOTTOM = 0x0006;
    public const RW2_RIGHT = 0x0007;
    public const RW2_ISO = 0x0017;               // SHORT
    public const RW2_JPEG = 0x002E;              // UNDEFINED: a whole JPEG with its own Exif
    public const NEW_SUBFILE_TYPE = 0x00FE;      // [T] LONG
    public const IMAGE_WIDTH = 0x0100;           // [T] SHORT or LONG
    public const IMAGE_LENGTH = 0x0101;          // [T] SHORT or LONG
    public const COMPRESSION = 0x0103;           // [T] SHORT
    public const PHOTOMETRIC = 0x0106;           // [T] SHORT; 32803 is a colour filter array [EP]
    public const MAKE = 0x010F;                  // [T] ASCII
    public const MODEL = 0x0110;                 // [T] ASCII
    public const STRIP_OFFSETS = 0x0111;         // [T] SHORT or LONG
    public const ORIENTATION = 0x0112;           // [T] SHORT
    public const STRIP_BYTE_COUNTS = 0x0117;     // [T] SHORT or LONG
    public const TILE_OFFSETS = 0x0144;          // [T] LONG
    public const RW2_DATA = 0x0118;              // of RW2 files: where the sensor's data begin (common practice)
    public const TILE_BYTE_COUNTS = 0x0145;      // [T] SHORT or LONG
    public const DATE_TIME = 0x0132;             // [T] ASCII, 20
    public const SUB_IFDS = 0x014A;              // [EP] LONG or IFD
    public const JPEG_OFFSET = 0x0201;           // [T] [X] LONG, JPEGInterchangeFormat
    public const JPEG_LENGTH = 0x0202;           // [T] [X] LONG, JPEGInterchangeFormatLength
    public const RATING = 0x4746;                // SHORT
    public const EXPOSURE_TIME = 0x829A;         // [X] RATIONAL, seconds
    public const F_NUMBER = 0x829D;              // [X] RATIONAL
    public const EXIF_IFD = 0x8769;              // [X] LONG
    public const GPS_IFD = 0x8825;               // [X] LONG
    public const ARTIST = 0x013B;                // [T] ASCII
    public const COPYRIGHT = 0x8298;             // [T] ASCII
    public const EXPOSURE_BIAS = 0x9204;         // [X] SRATIONAL, stops
    public const GPS_LATITUDE_REF = 0x0001;      // [X] ASCII, N or S; in the GPS directory
    public const GPS_LATITUDE = 0x0002;          // [X] RATIONAL, 3: degrees, minutes, seconds
    public const GPS_LONGITUDE_REF = 0x0003;     // [X] ASCII, E or W
    public const GPS_LONGITUDE = 0x0004;         // [X] RATIONAL, 3
    public const ISO = 0x8827;                   // [X] SHORT, PhotographicSensitivity
    public const SELF_TIMER_MODE = 0x882B;       // [EP] SHORT, seconds
    public const STANDARD_OUTPUT_SENSITIVITY = 0x8831; // [X] LONG
    public const RECOMMENDED_EXPOSURE_INDEX = 0x8832;  // [X] LONG
    public const DATE_TIME_ORIGINAL = 0x9003;    // [X] ASCII, 20
    public const DATE_TIME_DIGITIZED = 0x9004;   // [X] ASCII, 20
    public const OFFSET_TIME_ORIGINAL = 0x9011;  // [X] ASCII, 7
    public const OFFSET_TIME_DIGITIZED = 0x9012; // [X] ASCII, 7
    public const MAKER_NOTE = 0x927C;            // [X] UNDEFINED
    public const IMAGE_NUMBER = 0x9211;          // [EP] LONG
    public const FOCAL_LENGTH = 0x920A;          // [X] RATIONAL, millimetres
    public const SUB_SEC_TIME_ORIGINAL = 0x9291; // [X] ASCII
    public const SUB_SEC_TIME_DIGITIZED = 0x9292; // [X] ASCII
    public const PIXEL_X_DIMENSION = 0xA002;     // [X] SHORT or LONG
    public const PIXEL_Y_DIMENSION = 0xA003;     // [X] SHORT or LONG
    public const EXPOSURE_MODE = 0xA402;         // [X] SHORT: 0 automatic, 1 by hand, 2 automatic bracket
    public const BODY_SERIAL_NUMBER = 0xA431;    // [X] ASCII
    public const LENS_SPECIFICATION = 0xA432;    // [X] RATIONAL, 4
    public const LENS_MODEL = 0xA434;            // [X] ASCII
    public const CAMERA_SERIAL_NUMBER = 0xC62F;  // [D] ASCII
}
