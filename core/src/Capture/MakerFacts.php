<?php

declare(strict_types=1);

namespace Velvet\Core\Capture;

use Velvet\Core\Bytes\ByteRange;
use Velvet\Core\Bytes\FileBytes;
use Velvet\Core\Bytes\Ifd;
use Velvet\Core\Bytes\TiffBlock;

/**
 * What a camera keeps in its maker's own note, and in no standard tag: sensitivity, lens, serial number, stars. The
 * notes are directories of TIFF fields behind the makers' own heads; no standard describes them. Tags and tables are
 * from memory, checked in the tests against exiftool.
 */
final readonly class MakerFacts
{
    private const NIKON_ISO = 0x0002;            // SHORT: 0 and the value
    private const NIKON_SERIAL = 0x001D;         // ASCII
    private const NIKON_LENS = 0x0084;           // RATIONAL, 4: as Exif's LensSpecification
    private const CANON_SETTINGS = 0x0001;       // SHORT
    private const CANON_SHOT = 0x0004;           // SHORT
    private const CANON_SERIAL = 0x000C;         // LONG
    private const CANON_LENS = 0x0095;           // ASCII
    private const OLYMPUS_EQUIPMENT = 0x2010;    // a directory
    private const OLYMPUS_SERIAL = 0x0101;       // ASCII, in it
    private const OLYMPUS_LENS = 0x0203;         // ASCII, in it
    private const PANASONIC_LENS = 0x0051;       // ASCII
    private const PANASONIC_FOCUS = 0x004D;      // RATIONAL, 2: shares of width and height
    private const PENTAX_ISO = 0x0014;           // SHORT: a place in the table below, or the value
    private const PENTAX_SERIAL = 0x0229;        // ASCII
    private const FUJI_FOCUS = 0x1023;           // SHORT, 2: pixels of the picture
    private const FUJI_RATING = 0x1431;          // LONG
    private const SONY_RATING = 0x2002;          // LONG
    private const SONY_FOCUS = 0x2027;           // SHORT, 4: width and height, then across and down

    /** Sensitivities in thirds of a stop, as they are engraved; the first is number 3. */
    private const PENTAX_SENSITIVITIES = [
        3 => 50, 64, 80, 100, 125, 160, 200, 250, 320, 400, 500, 640, 800, 1000, 1250, 1600, 2000, 2500, 3200, 4000,
        5000, 6400, 8000, 10000, 12800, 16000, 20000, 25600, 32000, 40000, 51200, 64000, 80000, 102400,
    ];

    /**
     * @param int<1, 5>|null           $rating
     * @param array{float, float}|null $focus  where the camera focused, as shares of width and height from the left and
     *                                         the top of the picture as it is stored
     */
    private function __construct(
        public ?int $iso = null,
        public ?string $lens = null,
        public ?string $serial = null,
        public ?int $rating = null,
        public ?array $focus = null,
    ) {
    }

    /**
     * @param TiffBlock $around the structure that the note lies in: some notes count their offsets from its start
     * @param string    $make   what the picture says of its camera's maker
     * @param int[]     $pixels width and height of the picture, as far as they are known
     */
    public static function of(FileBytes $bytes, TiffBlock $around, ByteRange $note, string $make, array $pixels): self
    {
        $head = $bytes->read($note->offset, 18);
        $inside = static fn (int $first, bool $little): TiffBlock => TiffBlock::inside(
            $bytes,
            $note->offset,
            $bytes->size() - $note->offset,
            $little,
            $first,
        );
        $beside = static fn (int $first, bool $little): ?Ifd => TiffBlock::inside(
            $bytes,
            $around->base,
            $around->length,
            $little,
            $note->offset - $around->base + $first,
        )->ifd($note->offset - $around->base + $first);
        $little = $around->littleEndian;

        return match (true) {
            str_starts_with($head, "Nikon\0\x02") => self::nikon(
                TiffBlock::at($bytes, $note->offset + 10, $note->length - 10),
            ),
            str_starts_with($head, "OLYMPUS\0II") => self::olympus($inside(12, true)),
            str_starts_with($head, "OM SYSTEM\0\0\0II") => self::olympus($inside(16, true)),
            str_starts_with($head, 'FUJIFILM') => self::fuji(
                $inside(0, true)->ifd(TiffBlock::number($head, 8, 4, true)),
                $pixels,
            ),
            str_starts_with($head, "Panasonic\0") => self::panasonic($beside(12, $little)),
            str_starts_with($head, "SONY DSC \0") => self::sony($beside(12, $little)),
            str_starts_with($head, "AOC\0") => self::pentax($beside(6, 'MM' !== substr($head, 4, 2))),
            str_starts_with($head, "PENTAX \0") => self::pentax($inside(10, 'MM' !== substr($head, 8, 2))->ifd(10)),
            0 === strncasecmp($make, 'Canon', 5) => self::canon($beside(0, $little)),
            default => new self(),
        };
    }

    private static function nikon(?TiffBlock $block): self
    {
        $note = $block?->ifd($block->firstIfd);

        return null === $note ? new self() : new self(
            self::sensitivity($note->integers(self::NIKON_ISO, 2)[1] ?? null),
            LensRange::of($note->rationals(self::NIKON_LENS, 4)),
            $note->text(self::NIKON_SERIAL),
        );
    }

    private static function olympus(TiffBlock $block): self
    {
        $equipment = $block->ifd($block->ifd($block->firstIfd)?->integer(self::OLYMPUS_EQUIPMENT) ?? 0);

        return new self(
            lens: $equipment?->text(self::OLYMPUS_LENS),
            serial: $equipment?->text(self::OLYMPUS_SERIAL),
        );
    }

    private static function pentax(?Ifd $note): self
    {
        $iso = $note?->integer(self::PENTAX_ISO) ?? 0;

        return new self(
            self::sensitivity(self::PENTAX_SENSITIVITIES[$iso] ?? $iso),
            serial: $note?->text(self::PENTAX_SERIAL),
        );
    }

    /**
     * The settings hold the longest and the shortest focal length, and how many of their units are a millimetre
     * (23, 24, 25); the shot its sensitivity as two numbers (1, 2): 100 / 32 times 2 to the power of a 32nd of the
     * latter, times 2 to that of a 32nd of the former.
     */
    private static function canon(?Ifd $note): self
    {
        $settings = $note?->integers(self::CANON_SETTINGS, 26) ?? [];
        $shot = $note?->integers(self::CANON_SHOT, 3) ?? [];
        $serial = $note?->integer(self::CANON_SERIAL) ?? 0;
        $iso = ($shot[2] ?? 0) > 0 ? 2 ** ($shot[2] / 32) * 100 / 32 * 2 ** (($shot[1] ?? 0) / 32) : 0.0;
        $unit = $settings[25] ?? 0;

        return new self(
            self::sensitivity((int) round($iso)),
            $note?->text(self::CANON_LENS) ?? LensRange::of([
                [$settings[24] ?? 0, $unit], [$settings[23] ?? 0, $unit], [0, 0], [0, 0],
            ]),
            $serial > 0 ? \sprintf('%010d', $serial) : null,
        );
    }

    /** @param int[] $pixels */
    private static function fuji(?Ifd $note, array $pixels): self
    {
        return new self(
            rating: self::stars($note?->integer(self::FUJI_RATING)),
            focus: self::share($note?->integers(self::FUJI_FOCUS, 2) ?? [], $pixels),
        );
    }

    private static function panasonic(?Ifd $note): self
    {
        [$across, $down] = ($note?->rationals(self::PANASONIC_FOCUS, 2) ?? []) + [[0, 0], [0, 0]];

        // as large as they can be where it is not known
        return new self(
            lens: $note?->text(self::PANASONIC_LENS),
            focus: self::share([$across[0], $down[0]], [$across[1], $down[1]]),
        );
    }

    private static function sony(?Ifd $note): self
    {
        $focus = $note?->integers(self::SONY_FOCUS, 4) ?? [];

        return new self(
            rating: self::stars($note?->integer(self::SONY_RATING)),
            focus: self::share(\array_slice($focus, 2), \array_slice($focus, 0, 2)),
        );
    }

    /** @return int<1, 5>|null 0 stands in every picture that nobody rated */
    private static function stars(?int $stars): ?int
    {
        return null !== $stars && $stars >= 1 && $stars <= 5 ? $stars : null;
    }

    /**
     * A place within a picture; null where it does not lie in it, or in its first corner, which stands for none.
     *
     * @param int[] $place
     * @param int[] $size
     *
     * @return array{float, float}|null
     */
    private static function share(array $place, array $size): ?array
    {
        if (2 !== \count($place) || 2 !== \count($size) || min($size) < 1 || [0, 0] === $place) {
            return null;
        }
        [$across, $down] = [$place[0] / $size[0], $place[1] / $size[1]];

        return min($across, $down) < 0 || max($across, $down) > 1 ? null : [round($across, 4), round($down, 4)];
    }

    private static function sensitivity(?int $iso): ?int
    {
        return null === $iso || $iso < 1 || $iso > 10_000_000 ? null : $iso;
    }
}
