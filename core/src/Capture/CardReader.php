<?php

declare(strict_types=1);

namespace Velvet\Core\Capture;

use Velvet\Core\Card\Frame;

/**
 * Reads the frames of one card, one after another. The headers of movies count in UTC: they are told in the zone in
 * which the pictures before them were taken, where these say it, or the times of files do ({@see MovieClock}); else in
 * that of this computer.
 */
final class CardReader
{
    private readonly MovieClock $clock;

    /**
     * @param string      $root   absolute: the card's
     * @param string|null $offset of the zone of pictures on the card that were read before, as `+02:00`
     */
    public function __construct(
        private readonly Capture $capture,
        private readonly string $root,
        private ?string $offset = null,
    ) {
        $this->clock = new MovieClock($capture->zone);
    }

    public function read(Frame $frame): FrameReading
    {
        if ($frame->isLoose()) {
            return FrameReading::ofLoose($frame, $this->root, $this->capture);
        }
        if ($frame->leading()->kind->isMovieOrSound()) {
            return FrameReading::of($frame, $this->root, null === $this->offset
                ? $this->capture
                : $this->capture->inOtherZone(new \DateTimeZone($this->offset)))->onClock($this->clock);
        }
        $reading = FrameReading::of($frame, $this->root, $this->capture);
        $time = $reading->facts->time;
        $this->offset = $time->at->offset ?? $this->offset;
        if (true === $time?->from->isCertain()) {
            $this->clock->picture($time->at, $frame->leading()->modifiedAt);
        }

        return $reading;
    }
}
