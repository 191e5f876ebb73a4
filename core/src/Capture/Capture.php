<?php

declare(strict_types=1);

namespace Velvet\Core\Capture;

use Velvet\Core\Duplicate\Fingerprint;

/** Reads the facts of any still file: finds the reader by the file's first bytes, not by its name. */
final readonly class Capture
{
    private const WINDOW = 16;

    /** @param list<CaptureReader> $readers asked in this order */
    private function __construct(private array $readers, private \DateTimeZone $zone)
    {
    }

    /** @param \DateTimeZone $zone the zone in which the file system's times are read as wall clocks */
    public static function inZone(\DateTimeZone $zone): self
    {
        return new self([new JpegReader(), new TiffReader(), new IsoMediaReader(), new RafReader(), new PngReader(), new WebpReader(), new JxlReader(), new MrwReader()], $zone);
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
        } catch (CaptureUnreadable $e) {
            return new CaptureReading(
                $this->withTime(new CaptureFacts(problems: [CaptureProblem::unreadable($name, $e->reason)]), $name, $modifiedAt), null, 0,
            );
        }
        $facts = 0 === $bytes->size()
            ? new CaptureFacts(problems: [CaptureProblem::empty($name)])
            : $this->facts($bytes, $name);
        $fingerprint = Fingerprint::of($bytes);

        return new CaptureReading($this->withTime($facts, $name, $modifiedAt), $fingerprint, $bytes->bytesRead());
    }

    /** The fingerprint alone, for files whose facts are not asked for; null where the file cannot be opened. */
    public function fingerprint(string $path): ?Fingerprint
    {
        try {
            return Fingerprint::of(FileBytes::open($path));
        } catch (CaptureUnreadable) {
            return null;
        }
    }

    private function facts(FileBytes $bytes, string $name): CaptureFacts
    {
        $head = $bytes->read(0, min(self::WINDOW, $bytes->size()));
        foreach ($this->readers as $reader) {
            if ($reader->recognises($head)) {
                return $reader->read($bytes, $name);
            }
        }

        return new CaptureFacts(problems: [CaptureProblem::notAPicture($name)]);
    }

    private function withTime(CaptureFacts $facts, string $name, int $modifiedAt): CaptureFacts
    {
        return null !== $facts->capturedAt ? $facts : $facts->dated(ShotTime::fromFileTime($modifiedAt, $this->zone), $name);
    }
}
