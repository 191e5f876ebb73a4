<?php

declare(strict_types=1);

namespace Velvet\Core\Capture;

use Velvet\Core\Card\Frame;

/**
 * Reads the frames of one card, one after another. The headers of movies count in UTC: they are told in the zone in
 * which the pictures before them were taken, where these say it; else in that of this computer.
 */
final class CardReader
{
    /**
     * @param string      $root   absolute: the card's
     * @param string|null $offset of the zone of pictures on the card that were read before, as `+02:00`
     */
    public function __construct(
        private readonly Capture $capture,
        private readonly string $root,
        private ?string $offset = null,
    ) {
    }

    public function read(Frame $frame): FrameReading
    {
        if ($frame->isLoose()) {
            return FrameReading::ofLoose($frame, $this->root, $this->capture);
        }
        if ($frame->leading()->kind->isMovieOrSound()) {
            return FrameReading::of($frame, $this->root, null === $this->offset
                ? $this->capture
                : Capture::inZone(new \DateTimeZone($this->offset)));
        }
        $reading = FrameReading::of($frame, $this->root, $this->capture);
        $this->offset = $reading->facts->time->at->offset ?? $this->offset;

        return $reading;
    }
}
