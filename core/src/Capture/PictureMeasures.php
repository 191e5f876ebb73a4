<?php

declare(strict_types=1);

namespace Velvet\Core\Capture;

/**
 * What a small grey rendition tells of a frame, for hints and for the brightness line over the frames. Hints are only
 * hints: the thresholds are our choice, tried on the demo's pictures, and nothing is ever left out because of them.
 */
final readonly class PictureMeasures
{
    /** Pixels of the long edge at which pictures are measured: enough to tell a soft edge, small enough to be quick. */
    public const EDGE = 512;

    /** Grey values, of 255, up to which a pixel counts as black and from which as clipped. */
    private const BLACK = 10;
    private const CLIPPED = 250;

    /** Looks black: nearly every pixel is black. A night picture has lights. */
    private const BLACK_FRAME = 0.995;
    /** Looks blown out: so large a share of the picture is clipped. */
    private const BLOWN_FRAME = 0.4;
    /** Looks blurred: even the steepest tenth of its edges takes more pixels than this steepness allows. */
    private const BLURRED_FRAME = 0.42;

    /** Pixels on either side of a point within which an edge is looked for. */
    private const REACH = 6;
    /** Grey values between the darkest and the brightest pixel there, from which on it is an edge and not a surface. */
    private const CONTRAST = 48;
    /** Every so many pixels a row and a column is looked at, and a point along it. */
    private const LINES = 8;
    private const STEP = 4;
    /** Edges that must be found before anything is said: a dark or empty picture has none. */
    private const FEWEST_EDGES = 40;
    /** The area about the point of focus, as a share of the long edge; a face that is not small. */
    private const FOCUS_AREA = 0.2;
    /** There, every so many pixels is looked at, and fewer edges are enough. */
    private const FOCUS_LINES = 2;
    private const FEWEST_IN_FOCUS = 15;
    /** The share of edges that may be softer than the figure: pictures are sharp in a few places only. */
    private const SOFTER = 0.9;

    /**
     * @param float      $brightness mean, 0 to 1
     * @param float      $black      share of black pixels, 0 to 1
     * @param float      $clipped    share of clipped pixels, 0 to 1
     * @param float|null $sharpness  how steep the steepest tenth of the edges is: the largest share of an edge's
     *                               contrast that
     *                               lies between two neighbouring pixels, 0 to 1; null where there are too few edges
     * @param Likeness|null $likeness null where the picture says nothing
     * @param float|null    $inFocus  the sharpness of the area where the camera focused; null where that is not known
     *                                or has too few edges
     */
    public function __construct(
        public float $brightness,
        public float $black,
        public float $clipped,
        public ?float $sharpness = null,
        public ?Likeness $likeness = null,
        public ?float $inFocus = null,
    ) {
    }

    /**
     * @param string       $grey  one byte a pixel, row by row; at least one pixel
     * @param positive-int $width pixels of a row
     * @param array{float, float}|null $focus where the camera focused, as shares of width and height from left and top
     */
    public static function of(string $grey, int $width, ?array $focus = null): self
    {
        $count = \strlen($grey);
        if (0 === $count || 0 !== $count % $width) {
            throw new \ValueError('A picture has at least one pixel, and whole rows of them.');
        }
        $sum = $black = $clipped = 0;
        foreach (count_chars($grey, 1) as $value => $pixels) {
            $sum += $value * $pixels;
            $black += $value <= self::BLACK ? $pixels : 0;
            $clipped += $value >= self::CLIPPED ? $pixels : 0;
        }

        return new self(
            $sum / $count / 255,
            $black / $count,
            $clipped / $count,
            self::sharpness($grey, $width, self::LINES, self::FEWEST_EDGES),
            Likeness::of($grey, $width),
            null === $focus ? null : self::inFocus($grey, $width, $focus),
        );
    }

    public function looksBlack(): bool
    {
        return $this->black >= self::BLACK_FRAME;
    }

    public function looksBlownOut(): bool
    {
        return $this->clipped >= self::BLOWN_FRAME;
    }

    public function looksBlurred(): bool
    {
        return null !== $this->sharpness && $this->sharpness < self::BLURRED_FRAME;
    }

    /**
     * @param positive-int        $width
     * @param array{float, float} $focus
     */
    private static function inFocus(string $grey, int $width, array $focus): ?float
    {
        $height = intdiv(\strlen($grey), $width);
        $side = (int) ceil(self::FOCUS_AREA * max($width, $height));
        [$columns, $rows] = [max(1, min($side, $width)), min($side, $height)];
        // as near to the point as the edge of the picture lets it be
        $left = max(0, min($width - $columns, (int) round($focus[0] * $width - $columns / 2)));
        $top = max(0, min($height - $rows, (int) round($focus[1] * $height - $rows / 2)));
        $area = '';
        for ($y = $top; $y < $top + $rows; ++$y) {
            $area .= substr($grey, $y * $width + $left, $columns);
        }

        return self::sharpness($area, $columns, self::FOCUS_LINES, self::FEWEST_IN_FOCUS);
    }

    /**
     * @param positive-int $width
     * @param positive-int $lines every so many rows and columns is looked at
     */
    private static function sharpness(string $grey, int $width, int $lines, int $fewest): ?float
    {
        $height = intdiv(\strlen($grey), $width);
        $steepness = array_fill(0, 101, 0); // how often each percentage was met
        for ($y = 0; $y < $height; $y += $lines) {
            self::edges(substr($grey, $y * $width, $width), $steepness);
        }
        for ($x = 0; $x < $width; $x += $lines) {
            $column = '';
            for ($at = $x; $at < \strlen($grey); $at += $width) {
                $column .= $grey[$at];
            }
            self::edges($column, $steepness);
        }
        $edges = array_sum($steepness);
        if ($edges < $fewest) {
            return null;
        }
        $softer = 0;
        foreach ($steepness as $percent => $count) {
            $softer += $count;
            if ($softer >= self::SOFTER * $edges) {
                return $percent / 100;
            }
        }

        return 1.0;
    }

    /**
     * Adds the edges along one line of pixels.
     *
     * @param array<int, int> $steepness
     */
    private static function edges(string $line, array &$steepness): void
    {
        $pixels = unpack('C*', $line);
        if (false === $pixels) {
            return;
        }
        /** @var list<int> $pixels */
        $pixels = array_values($pixels);
        for ($from = 0; $from + 2 * self::REACH < \count($pixels); $from += self::STEP) {
            $part = \array_slice($pixels, $from, 2 * self::REACH + 1);
            \assert([] !== $part);
            $contrast = max($part) - min($part);
            if ($contrast < self::CONTRAST) {
                continue;
            }
            $steepest = 0;
            for ($i = 1; $i <= 2 * self::REACH; ++$i) {
                $steepest = max($steepest, abs($part[$i] - $part[$i - 1]));
            }
            ++$steepness[intdiv(100 * $steepest, $contrast)];
        }
    }
}
