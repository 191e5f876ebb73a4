<?php

declare(strict_types=1);

namespace Velvet\Core\Capture;

use Velvet\Core\Bytes\FileBytes;
use Velvet\Core\Bytes\Fingerprint;
use Velvet\Core\Card\CardFile;
use Velvet\Core\Card\FileKind;
use Velvet\Core\Card\Frame;
use Velvet\Core\Drive\ReadAhead;

/** Everything that is known of one frame after its files were opened: stills and companions together. */
final readonly class FrameReading
{
    /** What is worth saying of a companion; a voice note without a date is nothing to worry about. */
    private const OF_COMPANIONS = ['unreadable', 'part_unreadable', 'other_content', 'empty'];
    /** What is no matter for a movie or sound: there are kinds of them that are not understood here. */
    private const OF_PICTURES = ['not_a_picture'];

    /**
     * @param list<Fingerprint|null> $fingerprints one for each file; null where it could not be opened
     * @param list<CaptureProblem>   $problems     of all files together
     * @param string|null            $picture      fingerprint of the file whose picture stands for the frame
     */
    private function __construct(
        public Frame $frame,
        public CaptureFacts $facts,
        public array $fingerprints,
        public array $problems,
        public ?string $picture,
    ) {
    }

    public static function of(Frame $frame, string $root, Capture $capture): self
    {
        $facts = null;
        $fingerprints = $problems = [];
        $picture = null;
        foreach ($frame->files as $position => $file) {
            $reading = $capture->of($root.'/'.$file->path, $file->modifiedAt);
            $fingerprints[] = $reading->fingerprint;
            if (0 === $position && !$file->kind->isStill()) {
                $facts = $reading->facts;
                $picture = $file->kind->isMovieOrSound() && $file->bytes > 0 ? $reading->fingerprint?->hex : null;
                $problems = array_filter(
                    $facts->problems,
                    static fn (CaptureProblem $problem): bool => !\in_array($problem->code, self::OF_PICTURES, true),
                );
                continue;
            }
            if (!$file->kind->isStill()) {
                $problems = [
                    ...$problems,
                    ...array_filter(
                        $reading->facts->problems,
                        static fn (CaptureProblem $problem): bool => \in_array(
                            $problem->code,
                            self::OF_COMPANIONS,
                            true,
                        ),
                    ),
                ];
                $facts = $facts?->besides($reading->facts);
                continue;
            }
            $problems = [...$problems, ...$reading->facts->problems];
            if (
                null === $facts
                || (!$facts->isTimeCertain() && $reading->facts->isTimeCertain())
            ) {
                $facts = $reading->facts;
            }
            if (self::hasPicture($file, $reading->facts) && (null === $picture || FileKind::Jpeg === $file->kind)) {
                $picture = $reading->fingerprint?->hex;
            }
        }

        if (true === $facts?->isTimeCertain()) { // one of its files knows the time: that others do not is no matter
            $problems = array_filter($problems, static fn (CaptureProblem $problem): bool => !$problem->isAboutTime());
        }

        return new self($frame, $facts ?? new CaptureFacts(), $fingerprints, array_values($problems), $picture);
    }

    /** The same of a movie or sound, its time as the camera's own clock had it. */
    public function onClock(MovieClock $clock): self
    {
        $time = $this->facts->time;
        $modifiedAt = $this->frame->leading()->modifiedAt;
        $at = match ($time?->from) {
            TimeSource::MovieHeader => $clock->movie($time->at, $this->facts->playing->seconds ?? 0.0, $modifiedAt),
            TimeSource::FileTime => $clock->file($modifiedAt),
            default => null,
        };

        return null === $time || null === $at ? $this : new self(
            $this->frame,
            $this->facts->timed(new CaptureTime($at, $time->from)),
            $this->fingerprints,
            $this->problems,
            $this->picture,
        );
    }

    /** Of a card's loose files ({@see Frame::isLoose()}) it only counts whether they can be read. */
    public static function ofLoose(Frame $frame, string $root, Capture $capture): self
    {
        $fingerprints = $problems = [];
        foreach ($frame->files as $file) {
            $reading = $capture->of($root.'/'.$file->path, $file->modifiedAt);
            $fingerprints[] = $reading->fingerprint;
            $problems = [
                ...$problems,
                ...array_filter(
                    $reading->facts->problems,
                    static fn (CaptureProblem $problem): bool => $problem->isAboutReading(),
                ),
            ];
        }

        return new self($frame, new CaptureFacts(), $fingerprints, $problems, null);
    }

    /** Has the card fetch what {@see self::of()} reads of a frame in nearly every case. */
    public static function fetch(Frame $frame, string $root): void
    {
        foreach ($frame->files as $file) {
            $parts = [[0, FileBytes::HEAD]];
            foreach (Fingerprint::offsets($file->bytes) as $offset) {
                $parts[] = [$offset, Fingerprint::SAMPLE];
            }
            ReadAhead::of($root.'/'.$file->path, $parts);
        }
    }

    /** Tells camera bodies apart. */
    public function camera(): string
    {
        return $this->facts->camera->name();
    }

    /** What runs are recognised by. */
    public function exposed(): Exposed
    {
        return new Exposed(
            $this->facts->time?->at->ticks(),
            $this->camera(),
            Exposed::value($this->facts->exposure->seconds, $this->facts->optics->fNumber, $this->facts->exposure->iso),
            $this->facts->exposure->bias,
        );
    }

    /** @return array<string, Fingerprint|null> by absolute path */
    public function fingerprintsByPath(string $root): array
    {
        $byPath = [];
        foreach ($this->frame->files as $position => $file) {
            $byPath[$root.'/'.$file->path] = $this->fingerprints[$position];
        }

        return $byPath;
    }

    public function isReadable(): bool
    {
        return !\in_array(null, $this->fingerprints, true);
    }

    private static function hasPicture(CardFile $file, CaptureFacts $facts): bool
    {
        return $file->bytes > 0
            && (
                $facts->pictures->isViewable
                || null !== $facts->pictures->preview
                || null !== $facts->pictures->thumbnail
                || \in_array($file->kind, [FileKind::Raw, FileKind::Dng], true)
            );
    }
}
