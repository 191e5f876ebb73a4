<?php

declare(strict_types=1);

namespace Velvet\Core\Capture;

/** What a file says of itself. Whatever it does not say, or says wrongly, is null. */
final readonly class CaptureFacts
{
    /**
     * @param CaptureTime|null     $time     null where nothing tells when it was taken
     * @param list<CaptureProblem> $problems
     * @param Playing|null         $playing  of movies and sound
     * @param string|null          $packet   XMP that stands in it, for {@see OwnPacket}; it is kept nowhere
     */
    public function __construct(
        public ?CaptureTime $time = null,
        public CameraBody $camera = new CameraBody(),
        public Optics $optics = new Optics(),
        public Exposure $exposure = new Exposure(),
        public StoredSize $size = new StoredSize(),
        public CameraNotes $notes = new CameraNotes(),
        public EmbeddedPictures $pictures = new EmbeddedPictures(),
        public array $problems = [],
        public ?string $packet = null,
        public ?Playing $playing = null,
    ) {
    }

    /** Whether the picture itself, not the file system, tells when it was taken. */
    public function isTimeCertain(): bool
    {
        return true === $this->time?->from->isCertain();
    }

    /** The same facts, whose time was another one on the camera's clock. */
    public function timed(CaptureTime $time): self
    {
        return $this->with($time, $this->notes->rating, $this->problems);
    }

    /** The same facts with the file system's time in place of the missing capture time, and a problem that says so. */
    public function dated(?ShotTime $fileTime, string $name): self
    {
        return null === $fileTime
            ? $this->with(null, $this->notes->rating, [...$this->problems, CaptureProblem::noTimeAtAll($name)])
            : $this->with(
                new CaptureTime($fileTime, TimeSource::FileTime),
                $this->notes->rating,
                [...$this->problems, CaptureProblem::noCaptureTime($name)],
            );
    }

    /**
     * The same facts, with what a companion knows better: a certain time where there is none, and the stars in a
     * sidecar.
     */
    public function besides(self $companion): self
    {
        return $this->with(
            !$this->isTimeCertain() && $companion->isTimeCertain() ? $companion->time : $this->time,
            $this->notes->rating ?? $companion->notes->rating,
            $this->problems,
        );
    }

    /** The same facts, where the number of the lens has a name. */
    public function through(string $lens): self
    {
        return new self(
            $this->time,
            $this->camera,
            $this->optics->named($lens),
            $this->exposure,
            $this->size,
            $this->notes->knowing('lens'),
            $this->pictures,
            $this->problems,
            $this->packet,
            $this->playing,
        );
    }

    public function playing(?Playing $playing): self
    {
        return new self(
            $this->time,
            $this->camera,
            $this->optics,
            $this->exposure,
            $this->size,
            $this->notes,
            $this->pictures,
            $this->problems,
            $this->packet,
            $playing,
        );
    }

    /** The same facts of a file whose bytes could not all be had: what looked like damage may be none. */
    public function hinderedBy(CaptureProblem $problem): self
    {
        $others = array_filter(
            $this->problems,
            static fn (CaptureProblem $other): bool => !$other->isAboutDamage(),
        );

        return $this->with($this->time, $this->notes->rating, [...array_values($others), $problem]);
    }

    public function noting(CaptureProblem ...$problems): self
    {
        return $this->with($this->time, $this->notes->rating, [...$this->problems, ...array_values($problems)]);
    }

    /**
     * @param int<0, 5>|null       $rating
     * @param list<CaptureProblem> $problems
     */
    private function with(?CaptureTime $time, ?int $rating, array $problems): self
    {
        return new self(
            $time,
            $this->camera,
            $this->optics,
            $this->exposure,
            $this->size,
            $this->notes->rated($rating),
            $this->pictures,
            $problems,
            playing: $this->playing,
        );
    }

    /**
     * The facts as the headless contract and the database spell them.
     *
     * @return array{captured_at: ?string, captured_from: ?string, offset: ?string, make: ?string, model: ?string,
     *     serial: ?string, lens: ?string, exposure_s: ?float, f_number: ?float, iso: ?int, focal_mm: ?float,
     *     exposure_bias: ?float, width: ?int, height: ?int, orientation: ?int, rating: ?int, latitude: ?float,
     *     longitude: ?float, artist: ?string, copyright: ?string, image_number: ?int, exposure_mode: ?string,
     *     self_timer_s: ?float, seconds: ?float, frames_per_second: ?float, from_maker_note: list<string>,
     *     focus: array{float, float}|null, shots: int}
     */
    public function toArray(): array
    {
        return [
            'captured_at' => $this->time?->at->text(),
            'captured_from' => $this->time?->from->value,
            'offset' => $this->time?->at->offset,
            'make' => $this->camera->make,
            'model' => $this->camera->model,
            'serial' => $this->camera->serial,
            'lens' => $this->optics->lens,
            'exposure_s' => $this->exposure->seconds,
            'f_number' => $this->optics->fNumber,
            'iso' => $this->exposure->iso,
            'focal_mm' => $this->optics->focalMillimetres,
            'exposure_bias' => $this->exposure->bias,
            'width' => $this->size->width,
            'height' => $this->size->height,
            'orientation' => $this->size->orientation,
            'rating' => $this->notes->rating,
            'latitude' => $this->notes->place[0] ?? null,
            'longitude' => $this->notes->place[1] ?? null,
            'artist' => $this->notes->artist,
            'copyright' => $this->notes->copyright,
            'image_number' => $this->notes->imageNumber,
            'exposure_mode' => $this->exposure->mode?->name(),
            'self_timer_s' => $this->exposure->selfTimerSeconds,
            'seconds' => $this->playing?->seconds,
            'frames_per_second' => $this->playing?->framesPerSecond,
            'from_maker_note' => $this->notes->fromNote,
            'focus' => $this->notes->focus,
            'shots' => $this->pictures->shots,
        ];
    }
}
