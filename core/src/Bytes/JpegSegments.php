<?php

declare(strict_types=1);

namespace Velvet\Core\Bytes;

/** The segments of a JPEG up to its first scan (ITU-T T.81, annex B). */
final readonly class JpegSegments
{
    public const START = "\xFF\xD8";
    /** Bytes of a segment's payload: its length is counted in 2 bytes, themselves included. */
    public const MOST_BYTES = 65_533;
    private const SCAN = 0xDA;
    private const MOST = 5000;

    /**
     * @param list<JpegSegment> $segments as far as they can be read; the last one may lack bytes where there is a fault
     * @param int|null          $scan     where the marker of the first scan stands; null where none was come to
     * @param int|null          $data     where the scan's coded data begin
     * @param string|null       $fault    what is wrong, in words, as {@see StructureBroken} has it
     */
    private function __construct(
        public array $segments,
        public ?int $scan,
        public ?int $data,
        public ?string $fault,
    ) {
    }

    /** @param int $base where the JPEG begins in the file */
    public static function of(FileBytes $bytes, int $base = 0): self
    {
        if (self::START !== $bytes->read($base, 2)) {
            return new self([], null, null, 'it does not begin as a JPEG does');
        }
        $segments = [];
        $at = $base + 2;
        while (\count($segments) < self::MOST) {
            $head = $bytes->read($at, JpegSegment::HEADER + JpegPayload::LONGEST);
            if (str_starts_with($head, "\xFF\xFF")) { // a fill byte (T.81, B.1.1.2)
                ++$at;
                continue;
            }
            if (\strlen($head) < JpegSegment::HEADER || "\xFF" !== $head[0]) {
                return new self($segments, null, null, 'its segments break off before the picture');
            }
            $marker = \ord($head[1]);
            $length = TiffBlock::number($head, 2, 2, false) - 2;
            if (self::SCAN === $marker) {
                return new self($segments, $at, $at + JpegSegment::HEADER + $length, null);
            }
            if ($length < 0) {
                return new self($segments, null, null, 'the length of one of its segments is impossible');
            }
            $holds = JpegPayload::of($marker, substr($head, JpegSegment::HEADER, $length));
            $segments[] = new JpegSegment($marker, $at, $length, $holds);
            $at += JpegSegment::HEADER + $length;
            if ($at > $bytes->size()) {
                return new self($segments, null, null, 'one of its segments is longer than the file');
            }
        }

        return new self($segments, null, null, 'it has more segments than any JPEG needs');
    }

    /**
     * @return array{list<JpegSegment>, int} all of them, and where the marker of the first scan stands
     *
     * @throws StructureBroken
     */
    public function whole(): array
    {
        return null === $this->scan
            ? throw StructureBroken::because($this->fault ?? 'it has no picture')
            : [$this->segments, $this->scan];
    }
}
