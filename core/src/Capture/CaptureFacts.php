<?php

declare(strict_types=1);

namespace Velvet\Core\Capture;

use Velvet\Core\Bytes\ByteRange;

/** What a file says of itself. Whatever it does not say, or says wrongly, is null. */
final readonly class CaptureFacts
{
    /**
     * @param float|null           $exposureSeconds exposure time in seconds
     * @param float|null           $focalMillimetres real focal length, not the 35 mm equivalent
     * @param float|null           $exposureBias    stops
     * @param int|null             $width           pixels of the full image as stored, before orientation
     * @param int<1, 8>|null       $orientation     EXIF/TIFF `Orientation`
     * @param int<0, 5>|null       $rating          stars given in the camera
     * @param array{float, float}|null $place         latitude and longitude in degrees, north and east positive
     * @param int|null             $imageNumber     the camera's own count of its pictures
     * @param float|null           $selfTimerSeconds seconds from pressing the button; 0 where none
     * @param ByteRange|null       $thumbnail       a small embedded JPEG
     * @param ByteRange|null       $preview         the largest embedded JPEG
     * @param bool                 $isViewable      whether common decoders can show the file itself
     * @param list<CaptureProblem> $problems
     */
    public function __construct(
        public ?ShotTime $capturedAt = null,
        public ?TimeSource $capturedFrom = null,
        public ?string $make = null,
        public ?string $model = null,
        public ?string $serial = null,
        public ?string $lens = null,
        public ?float $exposureSeconds = null,
        public ?float $fNumber = null,
        public ?int $iso = null,
        public ?float $focalMillimetres = null,
        public ?float $exposureBias = null,
        public ?int $width = null,
        public ?int $height = null,
        public ?int $orientation = null,
        public ?int $rating = null,
        public ?array $place = null,
        public ?string $artist = null,
        public ?string $copyright = null,
        public ?int $imageNumber = null,
        public ?ExposureMode $exposureMode = null,
        public ?float $selfTimerSeconds = null,
        public ?ByteRange $thumbnail = null,
        public ?ByteRange $preview = null,
        public bool $isViewable = false,
        public array $problems = [],
    ) {
    }

    /** The same facts with the file system's time in place of the missing capture time, and a problem that says so. */
    public function dated(?ShotTime $fileTime, string $name): self
    {
        $problem = null === $fileTime ? CaptureProblem::noTimeAtAll($name) : CaptureProblem::noCaptureTime($name);

        return $this->with(
            $fileTime,
            null === $fileTime ? null : TimeSource::FileTime,
            $this->rating,
            [...$this->problems, $problem],
        );
    }

    /**
     * The same facts, with what a companion knows better: a certain time where there is none, and the stars in a
     * sidecar.
     */
    public function besides(self $companion): self
    {
        $timeIsBetter = true !== $this->capturedFrom?->isCertain() && true === $companion->capturedFrom?->isCertain();

        return $this->with(
            $timeIsBetter ? $companion->capturedAt : $this->capturedAt,
            $timeIsBetter ? $companion->capturedFrom : $this->capturedFrom,
            $this->rating ?? $companion->rating,
            $this->problems,
        );
    }

    /** The same facts of a file whose bytes could not all be had: what looked like damage may be none. */
    public function hinderedBy(CaptureProblem $problem): self
    {
        return $this->with(
            $this->capturedAt,
            $this->capturedFrom,
            $this->rating,
            [
                ...array_values(
                    array_filter($this->problems, static fn (CaptureProblem $other): bool => !$other->isAboutDamage()),
                ),
                $problem,
            ],
        );
    }

    public function noting(CaptureProblem ...$problems): self
    {
        return $this->with(
            $this->capturedAt,
            $this->capturedFrom,
            $this->rating,
            [...$this->problems, ...array_values($problems)],
        );
    }

    /**
     * @param int<0, 5>|null       $rating
     * @param list<CaptureProblem> $problems
     */
    private function with(?ShotTime $capturedAt, ?TimeSource $capturedFrom, ?int $rating, array $problems): self
    {
        return new self(
            $capturedAt, $capturedFrom, $this->make, $this->model, $this->serial, $this->lens,
            $this->exposureSeconds, $this->fNumber, $this->iso, $this->focalMillimetres, $this->exposureBias,
            $this->width, $this->height,
            $this->orientation, $rating, $this->place, $this->artist, $this->copyright, $this->imageNumber,
            $this->exposureMode, $this->selfTimerSeconds,
            $this->thumbnail, $this->preview, $this->isViewable, $problems,
        );
    }

    /**
     * The facts as the headless contract and the database spell them.
     *
     * @return array{captured_at: ?string, captured_from: ?string, offset: ?string, make: ?string, model: ?string,
     *     serial: ?string, lens: ?string, exposure_s: ?float, f_number: ?float, iso: ?int, focal_mm: ?float,
     *     exposure_bias: ?float, width: ?int, height: ?int, orientation: ?int, rating: ?int, latitude: ?float,
     *     longitude: ?float, artist: ?string, copyright: ?string, image_number: ?int, exposure_mode: ?string,
     *     self_timer_s: ?float}
     */
    public function toArray(): array
    {
        return [
            'captured_at' => $this->capturedAt?->text(),
            'captured_from' => $this->capturedFrom?->value,
            'offset' => $this->capturedAt?->offset,
            'make' => $this->make,
            'model' => $this->model,
            'serial' => $this->serial,
            'lens' => $this->lens,
            'exposure_s' => $this->exposureSeconds,
            'f_number' => $this->fNumber,
            'iso' => $this->iso,
            'focal_mm' => $this->focalMillimetres,
            'exposure_bias' => $this->exposureBias,
            'width' => $this->width,
            'height' => $this->height,
            'orientation' => $this->orientation,
            'rating' => $this->rating,
            'latitude' => $this->place[0] ?? null,
            'longitude' => $this->place[1] ?? null,
            'artist' => $this->artist,
            'copyright' => $this->copyright,
            'image_number' => $this->imageNumber,
            'exposure_mode' => $this->exposureMode?->name(),
            'self_timer_s' => $this->selfTimerSeconds,
        ];
    }
}
