<?php

declare(strict_types=1);

namespace Velvet\Core\Dng;

/** The samples of a sensor as a raw file has them, before anything is made of them. */
final readonly class RawImage
{
    /** More than any sensor has, in either direction and in all. */
    private const LONGEST_SIDE = 65_000;
    private const MOST_SAMPLES = 400_000_000;

    /**
     * @param string        $samples       16 bits each, little-endian, row by row; the planes of linear data
     *                                     interleaved
     * @param int           $bits          of a sample, 8 to 16: the precision of lossless JPEG
     * @param int           $planes        1 for a colour filter array, 3 for linear data
     * @param list<int>     $pattern       colours of the filter array, row by row: 0 red, 1 green, 2 blue (TIFF/EP,
     *                                     CFAPattern); empty for linear data
     * @param int           $patternWidth  2 or 6, as the pattern is
     * @param list<int>     $black         black levels, row by row, or one for all
     * @param int           $white         the value of light that is no longer told apart
     * @param list<int>|null $crop         left, top, width and height of the picture within the active area; null for
     *                                     all of it
     * @param list<int>|null $active       top, left, bottom and right of the part that light falls on, where the
     *                                     pattern and the black levels begin; null for all of it
     * @param list<int>      $masked       the same four of each part that is kept dark
     * @param SensorColours|null $colours   where they are known apart from the file's fields
     * @param int|null       $blackWidth   how many black levels stand side by side; null for as many as the pattern is
     *                                     wide
     */
    public function __construct(
        public int $width,
        public int $height,
        public string $samples,
        public int $bits,
        public int $planes,
        public array $pattern,
        public int $patternWidth,
        public array $black,
        public int $white,
        public ?array $crop = null,
        public ?array $active = null,
        public array $masked = [],
        public ?int $blackWidth = null,
        public ?SensorColours $colours = null,
    ) {
        \assert(\strlen($samples) === 2 * $width * $height * $planes);
    }

    /**
     * Called before memory is asked for.
     *
     * @throws DngRefused
     */
    public static function mustBeSane(int $width, int $height, int $planes): void
    {
        if (
            $width < 1
            || $height < 1
            || $width > self::LONGEST_SIDE
            || $height > self::LONGEST_SIDE
            || $width * $height * $planes > self::MOST_SAMPLES
        ) {
            throw DngRefused::tooLarge($width, $height);
        }
    }

    /**
     * The MD5 of the samples, as RawImageDigest has it (DNG 1.7.1: 16 bits each, little-endian, in raw scan order); 16
     * bytes.
     */
    public function digest(): string
    {
        return md5($this->samples, true);
    }
}
