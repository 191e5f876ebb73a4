<?php

declare(strict_types=1);

namespace Velvet\Core\Dng;

use Velvet\Core\Bytes\TiffWriter;

/** What a sensor's colours are, where that was measured. */
final readonly class SensorColours
{
    /**
     * From XYZ to linear sRGB (ITU-R BT.709 with D65): taken for cameras whose colours nobody has measured, as LibRaw
     * takes them too.
     */
    private const UNMEASURED = [
        3.240479,
        -1.537150,
        -0.498535,
        -0.969256,
        1.875992,
        0.041556,
        0.055648,
        -0.204043,
        1.057311,
    ];
    private const D65 = 21;
    private const PARTS = 1_000_000;

    /**
     * @param list<float>|null $fromXyz 9 numbers, row by row: from XYZ to the camera's red, green and blue under D65
     *                                  (DNG 1.7.1, ColorMatrix1)
     * @param list<float>      $neutral 3 numbers: what grey was in the light of the shot (AsShotNeutral), the largest
     *                                  being 1
     */
    public function __construct(private ?array $fromXyz = null, private array $neutral = [1.0, 1.0, 1.0])
    {
    }

    /** @return array<int, array{int, mixed}> */
    public function fields(): array
    {
        $matrix = $neutral = [];
        foreach ($this->fromXyz ?? self::UNMEASURED as $value) {
            array_push($matrix, (int) round($value * self::PARTS) & 0xFFFFFFFF, self::PARTS);
        }
        foreach ($this->neutral as $value) {
            array_push($neutral, (int) round($value * self::PARTS), self::PARTS);
        }

        return [
            RawTag::COLOR_MATRIX_1 => [TiffWriter::SIGNED_RATIONAL, $matrix],
            RawTag::ILLUMINANT_1 => [TiffWriter::SHORT, self::D65],
            RawTag::AS_SHOT_NEUTRAL => [TiffWriter::RATIONAL, $neutral],
        ];
    }
}
