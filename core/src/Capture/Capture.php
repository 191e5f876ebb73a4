<?php

declare(strict_types=1);

namespace Velvet\Core\Capture;

use Velvet\Core\Bytes\ByteRange;
use Velvet\Core\Bytes\FileBytes;
use Velvet\Core\Bytes\FileUnreadable;
use Velvet\Core\Bytes\Fingerprint;

/**
 * Reads the facts of any still file and its companions: finds the reader by the file's first bytes, not by its name.
 */
final readonly class Capture
{
    private const WINDOW = 48;
    /** Bytes: TIFF of 100 megapixels in three components of 8 bits, uncompressed. */
    private const LARGEST_SHOWN = 300_000_000;

    /**
     * @param list<CaptureReader> $readers asked in this order
     * @param \DateTimeZone       $zone    in which the times of file systems and movie headers are told
     */
    private function __construct(
        private array $readers,
        public \DateTimeZone $zone,
        private LensTable $lenses,
    ) {
    }

    /**
     * @param \DateTimeZone $zone the zone in which the times of file systems and movie headers are read as wall clocks
     */
    public static function inZone(\DateTimeZone $zone, LensTable $lenses = new LensTable()): self
    {
        return new self([
            new JpegReader(), new TiffReader(), new IsoMediaReader(), new RafReader(), new CrwReader(), new X3fReader(),
            new MrwReader(),
            new PngReader(), new RiffReader(), new JxlReader(), new MovieReader($zone), new XmpReader(),
        ], $zone, $lenses);
    }

    public function inOtherZone(\DateTimeZone $zone): self
    {
        return self::inZone($zone, $this->lenses);
    }

    /**
     * Facts and fingerprint of one file. Never throws for what the file contains.
     *
     * @param string $path       absolute
     * @param int    $modifiedAt the file's own time in Unix seconds, the last resort for a date
     */
    public function of(string $path, int $modifiedAt): CaptureReading
    {
        $name = basename($path);
        try {
            $bytes = FileBytes::open($path);
        } catch (FileUnreadable $e) {
            return new CaptureReading(
                $this->withTime(
                    new CaptureFacts(problems: [CaptureProblem::unreadable($name, $e->reason)]),
                    $name,
                    $modifiedAt,
                ),
                null, 0,
            );
        }
        $facts = 0 === $bytes->size()
            ? new CaptureFacts(problems: [CaptureProblem::empty($name)])
            : $this->facts($bytes, $name);
        $fingerprint = Fingerprint::of($bytes);
        if (null !== $bytes->fault()) {
            $facts = $facts->hinderedBy(CaptureProblem::partUnreadable($name, $bytes->fault()));
        }

        return new CaptureReading($this->withTime($facts, $name, $modifiedAt), $fingerprint, $bytes->bytesRead());
    }

    /**
     * A picture that can be shown without decoding a raw: the file itself, or the largest one embedded in it; null
     * where it has none.
     *
     * @param bool $small whether an embedded preview will do for a file that could be shown whole
     *
     * @throws FileUnreadable
     */
    public function picture(string $path, bool $small): ?ShownPicture
    {
        $bytes = FileBytes::open($path);
        $facts = $this->facts($bytes, basename($path));
        $range = $facts->pictures->preview ?? ($facts->pictures->isViewable ? null : $facts->pictures->thumbnail);
        $isWhole = $facts->pictures->isViewable && (null === $range || !$small);
        if (!$isWhole && null === $range) {
            return null;
        }
        [$offset, $length] = $isWhole ? [0, $bytes->size()] : [$range->offset, $range->length];
        if ($length > self::LARGEST_SHOWN) {
            throw FileUnreadable::at(
                $path,
                \sprintf('a picture of %d MB is too large to be shown', $length / 1_000_000),
            );
        }
        $own = new ExifReading('');
        $shape = $isWhole ? null : JpegReader::segments($bytes, $offset, $own);
        $shown = Orientation::tryFrom(($isWhole ? null : $own->orientation) ?? $facts->size->orientation ?? 1)
            ?? Orientation::AsStored;
        $turn = $isWhole || null !== $own->orientation ? Orientation::AsStored : $shown;

        $place = ByteRange::within($bytes->size(), $offset, $length);
        $focus = $facts->notes->focus;

        return null === $place
            ? null
            : new ShownPicture(
                $path,
                $place,
                $shown,
                $turn,
                null === $focus ? null : $shown->place($focus),
                self::edge($shape?->width, $shape?->height),
                self::edge($facts->size->width, $facts->size->height),
            );
    }

    private static function edge(?int $width, ?int $height): ?int
    {
        return null === $width || null === $height ? null : max($width, $height);
    }

    /**
     * How the file says that its picture is shown.
     *
     * @throws FileUnreadable
     */
    public function orientation(string $path): Orientation
    {
        $said = $this->facts(FileBytes::open($path), basename($path))->size->orientation ?? 1;

        return Orientation::tryFrom($said) ?? Orientation::AsStored;
    }

    private function facts(FileBytes $bytes, string $name): CaptureFacts
    {
        $head = $bytes->read(0, self::WINDOW);
        foreach ($this->readers as $reader) {
            $container = $reader->recognises($head);
            if (null !== $container) {
                $facts = $reader->read($bytes, $name);
                $lens = null === $facts->optics->number ? null : $this->lenses->name($facts->optics->number);
                $facts = null === $lens ? $facts : $facts->through($lens);

                return $container->goesBy(pathinfo($name, \PATHINFO_EXTENSION))
                    ? $facts
                    : $facts->noting(CaptureProblem::otherContent($name, $container->phrase()));
            }
        }

        return new CaptureFacts(problems: [CaptureProblem::notAPicture($name)]);
    }

    private function withTime(CaptureFacts $facts, string $name, int $modifiedAt): CaptureFacts
    {
        return null !== $facts->time
            ? $facts
            : $facts->dated(ShotTime::fromFileTime($modifiedAt, $this->zone), $name);
    }
}
