<?php

declare(strict_types=1);

namespace Velvet\Core\Capture;

/**
 * What a small grey rendition tells of a frame, for hints and for the brightness line over the frames. Hints are only hints:
 * the thresholds are our choice, and nothing is ever left out because of them.
 */
final readonly class PictureMeasures
{
    /** Grey values, of 255, up to which a pixel counts as black and from which as clipped. */
    private const BLACK = 10;
    private const CLIPPED = 250;

    /** Looks black: nearly every pixel is black. A night picture has lights. */
    private const BLACK_FRAME = 0.995;
    /** Looks blown out: so large a share of the picture is clipped. */
    private const BLOWN_FRAME = 0.4;

    /**
     * @param float $brightness mean, 0 to 1
     * @param float $black      share of black pixels, 0 to 1
     * @param float $clipped    share of clipped pixels, 0 to 1
     */
    public function __construct(public float $brightness, public float $black, public float $clipped)
    {
    }

    /** @param string $grey one byte a pixel, in any order; at least one pixel */
    public static function of(string $grey): self
    {
        $count = \strlen($grey);
        if (0 === $count) {
            throw new \ValueError('A picture has at least one pixel.');
        }
        $sum = $black = $clipped = 0;
        foreach (count_chars($grey, 1) as $value => $pixels) {
            $sum += $value * $pixels;
            $black += $value <= self::BLACK ? $pixels : 0;
            $clipped += $value >= self::CLIPPED ? $pixels : 0;
        }

        return new self($sum / $count / 255, $black / $count, $clipped / $count);
    }

    public function looksBlack(): bool
    {
        return $this->black >= self::BLACK_FRAME;
    }

    public function looksBlownOut(): bool
    {
        return $this->clipped >= self::BLOWN_FRAME;
    }
}
