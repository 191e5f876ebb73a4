<?php

declare(strict_types=1);

namespace Velvet\Core\Capture;

use Velvet\Core\Bytes\ByteRange;
use Velvet\Core\Bytes\Ifd;

/**
 * Collects facts from the directories of one TIFF structure. The first directory that states a fact wins:
 * the Exif directory is asked before the others, which TIFF/EP (ISO 12234-2) lets carry the same tags.
 */
final class ExifReading
{
    /** @var list<CaptureProblem> */
    public array $problems = [];

    public ?ShotTime $capturedAt = null;
    public ?TimeSource $capturedFrom = null;
    public ?string $make = null;
    public ?string $model = null;
    public ?string $serial = null;
    public ?string $lens = null;
    /** What is said of a lens without a name. */
    public ?string $lensRange = null;
    public ?float $exposureSeconds = null;
    public ?float $fNumber = null;
    public ?int $iso = null;
    public ?float $focalMillimetres = null;
    /** @var int<1, 8>|null */
    public ?int $orientation = null;
    /** @var int<0, 5>|null */
    public ?int $rating = null;
    public ?string $packet = null;
    public ?float $exposureBias = null;
    public ?string $artist = null;
    public ?string $copyright = null;
    /** @var array{float, float}|null latitude and longitude in degrees, north and east positive */
    public ?array $place = null;
    public ?int $pixelWidth = null;
    public ?int $pixelHeight = null;
    public ?int $imageNumber = null;
    public ?ByteRange $makerNote = null;
    /** What the maker's note says; it counts where nothing else does. */
    public ?MakerFacts $noted = null;
    public ?ExposureMode $exposureMode = null;
    /** How many pictures the file holds that are none of another. */
    public ?int $shots = null;
    /** @var float|null seconds from pressing the button to the exposure; 0 where none */
    public ?float $selfTimerSeconds = null;

    public function __construct(private readonly string $name)
    {
    }

    public function take(Ifd $ifd): void
    {
        $this->make ??= $ifd->text(ExifTag::MAKE);
        $this->model ??= $ifd->text(ExifTag::MODEL);
        $this->serial ??= $ifd->text(ExifTag::BODY_SERIAL_NUMBER) ?? $ifd->text(ExifTag::CAMERA_SERIAL_NUMBER);
        $this->lens ??= $ifd->text(ExifTag::LENS_MODEL);
        $this->lensRange ??= LensRange::of($ifd->rationals(ExifTag::LENS_SPECIFICATION, 4));
        $this->exposureSeconds ??= $this->quantity($ifd, ExifTag::EXPOSURE_TIME, 86_400.0, 'an exposure of %s s');
        $this->fNumber ??= $this->quantity($ifd, ExifTag::F_NUMBER, 256.0, 'an aperture of f/%s');
        $this->focalMillimetres ??= $this->quantity($ifd, ExifTag::FOCAL_LENGTH, 20_000.0, 'a focal length of %s mm');
        $this->iso ??= $this->sensitivity($ifd);
        $this->exposureBias ??= $this->bias($ifd);
        $this->makerNote ??= $ifd->range(ExifTag::MAKER_NOTE);
        $this->imageNumber ??= $ifd->integer(ExifTag::IMAGE_NUMBER);
        $this->exposureMode ??= ExposureMode::tryFrom($ifd->integer(ExifTag::EXPOSURE_MODE) ?? -1);
        $selfTimer = $ifd->integer(ExifTag::SELF_TIMER_MODE);
        $this->selfTimerSeconds ??= null === $selfTimer ? null : (float) $selfTimer;
        $this->artist ??= $ifd->text(ExifTag::ARTIST);
        $this->copyright ??= $ifd->text(ExifTag::COPYRIGHT);
        $this->orientation ??= $this->turn($ifd);
        $this->rating ??= $this->stars($ifd);
        $this->pixelWidth ??= $ifd->integer(ExifTag::PIXEL_X_DIMENSION);
        $this->pixelHeight ??= $ifd->integer(ExifTag::PIXEL_Y_DIMENSION);
        $this->time(
            $ifd,
            TimeSource::ExifOriginal,
            ExifTag::DATE_TIME_ORIGINAL,
            ExifTag::SUB_SEC_TIME_ORIGINAL,
            ExifTag::OFFSET_TIME_ORIGINAL,
        );
        $this->time(
            $ifd,
            TimeSource::ExifDigitized,
            ExifTag::DATE_TIME_DIGITIZED,
            ExifTag::SUB_SEC_TIME_DIGITIZED,
            ExifTag::OFFSET_TIME_DIGITIZED,
        );
    }

    /**
     * EXIF orientation of a picture that must be turned clockwise by so many degrees; null for other angles.
     *
     * @return int<1, 8>|null
     */
    public static function turned(int $degrees): ?int
    {
        return [0 => 1, 90 => 6, 180 => 3, 270 => 8][$degrees] ?? null;
    }

    /** Where the picture was taken, from the GPS directory (EXIF 2.32, 4.6.6). */
    public function takePlace(Ifd $gps): void
    {
        $latitude = $this->degrees(
            $gps->rationals(ExifTag::GPS_LATITUDE, 3),
            $gps->text(ExifTag::GPS_LATITUDE_REF),
            'N',
            'S',
            90.0,
        );
        $longitude = $this->degrees(
            $gps->rationals(ExifTag::GPS_LONGITUDE, 3),
            $gps->text(ExifTag::GPS_LONGITUDE_REF),
            'E',
            'W',
            180.0,
        );
        if (null !== $latitude && null !== $longitude) {
            $this->place ??= [$latitude, $longitude];
        }
    }

    /** The time from an XMP packet or a movie's header, where the picture's own directories have none. */
    public function takeTime(?ShotTime $time, TimeSource $source): void
    {
        if (null === $this->capturedAt && null !== $time) {
            $this->capturedAt = $time;
            $this->capturedFrom = $source;
        }
    }

    /** @param list<CaptureProblem> $problems of the container, on top of those met while reading */
    public function facts(
        ?int $width,
        ?int $height,
        ?ByteRange $thumbnail = null,
        ?ByteRange $preview = null,
        bool $isViewable = false,
        array $problems = [],
    ): CaptureFacts {
        $lens = $this->lens ?? $this->noted?->lens;

        return new CaptureFacts(
            null === $this->capturedAt || null === $this->capturedFrom
                ? null
                : new CaptureTime($this->capturedAt, $this->capturedFrom),
            new CameraBody($this->make, $this->model, $this->serial ?? $this->noted?->serial),
            new Optics(
                $lens ?? $this->lensRange ?? $this->noted?->lensRange,
                $this->fNumber,
                $this->focalMillimetres,
                null === $lens ? $this->noted?->lensNumber : null,
            ),
            new Exposure(
                $this->exposureSeconds,
                $this->iso ?? $this->noted?->iso,
                $this->exposureBias,
                $this->exposureMode,
                $this->selfTimerSeconds,
            ),
            new StoredSize($width, $height, $this->orientation),
            new CameraNotes(
                $this->rating ?? $this->noted?->rating,
                $this->place,
                $this->artist,
                $this->copyright,
                $this->imageNumber,
                $this->fromNote(),
                $this->noted?->focus,
            ),
            new EmbeddedPictures($thumbnail, $preview, $isViewable, max(1, $this->shots ?? 1)),
            [...$this->problems, ...$problems],
            $this->packet,
        );
    }

    /** @return list<string> the facts that are known from the maker's note alone, by their names in the contract */
    private function fromNote(): array
    {
        $facts = [
            'serial' => [$this->serial, $this->noted?->serial],
            'lens' => [
                $this->lens ?? (null === $this->noted?->lens ? $this->lensRange : null),
                $this->noted->lens ?? $this->noted?->lensRange,
            ],
            'iso' => [$this->iso, $this->noted?->iso],
            'rating' => [$this->rating, $this->noted?->rating],
        ];

        return array_keys(array_filter($facts, static fn (array $of): bool => null === $of[0] && null !== $of[1]));
    }

    /** @param list<array{int, int}> $parts */
    private function degrees(array $parts, ?string $reference, string $positive, string $negative, float $most): ?float
    {
        if (3 !== \count($parts) || ($reference !== $positive && $reference !== $negative)) {
            return null;
        }
        $degrees = 0.0;
        foreach ($parts as $i => [$numerator, $denominator]) {
            if (0 === $denominator) {
                return null;
            }
            $degrees += $numerator / $denominator / 60 ** $i;
        }

        return $degrees > $most ? null : round($reference === $negative ? -$degrees : $degrees, 7);
    }

    private function bias(Ifd $ifd): ?float
    {
        $ratio = $ifd->rational(ExifTag::EXPOSURE_BIAS);

        return null === $ratio || 0 === $ratio[1] || abs($ratio[0] / $ratio[1]) > 32 ? null : $ratio[0] / $ratio[1];
    }

    private function time(Ifd $ifd, TimeSource $source, int $tag, int $subSeconds, int $offset): void
    {
        if (null !== $this->capturedAt) {
            return;
        }
        $text = $ifd->text($tag);
        if (null === $text) {
            return;
        }
        $this->capturedAt = ShotTime::fromExif($text, $ifd->text($subSeconds) ?? '', $ifd->text($offset) ?? '');
        if (null !== $this->capturedAt) {
            $this->capturedFrom = $source;
        } elseif ('' !== trim($text, ': 0')) {
            $this->problems[] = CaptureProblem::nonsense(
                $this->name,
                \sprintf('the time “%s”', mb_substr($text, 0, 30)),
            );
        }
    }

    private function quantity(Ifd $ifd, int $tag, float $most, string $what): ?float
    {
        $ratio = $ifd->rational($tag);
        if (null === $ratio || [0, 0] === $ratio || 0 === $ratio[0]) {
            return null; // 0/x is how cameras say "unknown" (common practice: a lens without contacts)
        }
        if (0 === $ratio[1] || $ratio[0] / $ratio[1] > $most) {
            $this->problems[] = CaptureProblem::nonsense($this->name, \sprintf($what, $ratio[0].'/'.$ratio[1]));

            return null;
        }

        return $ratio[0] / $ratio[1];
    }

    /** EXIF 2.32, 4.6.5 D: above 65534 the 16-bit field is full and the LONG fields tell. */
    private function sensitivity(Ifd $ifd): ?int
    {
        // some write 0 and then the value
        $iso = array_values(array_diff($ifd->integers(ExifTag::ISO, 2), [0]))[0] ?? null;
        if (null === $iso || $iso >= 65_534) {
            $iso = $ifd->integer(ExifTag::RECOMMENDED_EXPOSURE_INDEX)
                ?? $ifd->integer(ExifTag::STANDARD_OUTPUT_SENSITIVITY)
                ?? $iso;
        }

        return 0 === $iso ? null : $iso;
    }

    /** @return int<1, 8>|null */
    private function turn(Ifd $ifd): ?int
    {
        $value = $ifd->integer(ExifTag::ORIENTATION);

        return null !== $value && $value >= 1 && $value <= 8 ? $value : null;
    }

    /** @return int<0, 5>|null */
    private function stars(Ifd $ifd): ?int
    {
        $value = $ifd->integer(ExifTag::RATING) ?? $ifd->signed(ExifTag::RATING); // some write it signed

        return null !== $value && $value >= 0 && $value <= 5 ? $value : null;
    }
}
