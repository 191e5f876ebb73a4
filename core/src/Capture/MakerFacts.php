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
    private const NIKON_FOCUS = 0x00B7;          // UNDEFINED: a version of four digits, then what it lays down
    private const CANON_SETTINGS = 0x0001;       // SHORT
    private const CANON_SHOT = 0x0004;           // SHORT
    private const CANON_SERIAL = 0x000C;         // LONG
    private const CANON_FOCUS = 0x0026;          // SHORT
    private const CANON_LENS = 0x0095;           // ASCII
    private const OLYMPUS_EQUIPMENT = 0x2010;    // a directory
    private const OLYMPUS_SERIAL = 0x0101;       // ASCII, in it
    private const OLYMPUS_LENS = 0x0203;         // ASCII, in it
    private const OLYMPUS_SETTINGS = 0x2020;     // a directory
    private const OLYMPUS_FOCUS = 0x0305;        // SRATIONAL, 5, in it: the last four are a box in shares
    private const PANASONIC_LENS = 0x0051;       // ASCII
    private const PANASONIC_FOCUS = 0x004D;      // RATIONAL, 2: shares of width and height
    private const PENTAX_ISO = 0x0014;           // SHORT: a place in the table below, or the value
    private const PENTAX_LENS = 0x003F;          // BYTE, 2 or more: its series and its number there
    private const PENTAX_SERIAL = 0x0229;        // ASCII
    private const FUJI_FOCUS = 0x1023;           // SHORT, 2: pixels of the picture
    private const FUJI_RATING = 0x1431;          // LONG
    private const SONY_RATING = 0x2002;          // LONG
    private const SONY_FOCUS = 0x2027;           // SHORT, 4: width and height, then across and down
    private const SONY_LENS = 0xB027;            // LONG

    /**
     * Where in the focus four SHORT stand, width and height of the picture, across and down, by its version; and of
     * what ways to find it (byte 4: 0 by a sensor of its own, 1 and 2 in the picture) they are told.
     */
    private const NIKON_FOCUS_AT = [
        '0100' => [0x10, [1, 2]],
        '0101' => [0x46, [1]],
        '0300' => [0x2A, [2]],
        '0301' => [0x2A, [1, 2]],
        '0302' => [0x2A, [2]],
        '0400' => [0x3E, [0, 1, 2]],
        '0401' => [0x3E, [0, 1, 2]],
        '0402' => [0x3E, [0, 1, 2]],
    ];

    /** Sensitivities in thirds of a stop, as they are engraved; the first is number 3. */
    private const PENTAX_SENSITIVITIES = [
        3 => 50, 64, 80, 100, 125, 160, 200, 250, 320, 400, 500, 640, 800, 1000, 1250, 1600, 2000, 2500, 3200, 4000,
        5000, 6400, 8000, 10000, 12800, 16000, 20000, 25600, 32000, 40000, 51200, 64000, 80000, 102400,
    ];

    /**
     * @param string|null              $lens   its name
     * @param string|null              $lensRange what is said of a lens without a name
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
        public ?string $lensRange = null,
        public ?LensNumber $lensNumber = null,
    ) {
    }

    /**
     * @param TiffBlock $around the structure that the note lies in: some notes count their offsets from its start
     * @param string    $make   what the picture says of its camera's maker
     * @param string    $model  and of the camera
     * @param list<int> $pixels width and height of the picture, as far as they are known
     */
    public static function of(
        FileBytes $bytes,
        TiffBlock $around,
        ByteRange $note,
        string $make,
        string $model,
        array $pixels,
    ): self {
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
            0 === strncasecmp($make, 'Canon', 5) => self::canon($beside(0, $little), $model),
            default => new self(),
        };
    }

    private static function nikon(?TiffBlock $block): self
    {
        $note = $block?->ifd($block->firstIfd);

        return null === $note ? new self() : new self(
            self::sensitivity($note->integers(self::NIKON_ISO, 2)[1] ?? null),
            serial: $note->text(self::NIKON_SERIAL),
            focus: self::nikonFocus($note->bytes(self::NIKON_FOCUS, 0x50), $block->littleEndian),
            lensRange: LensRange::of($note->rationals(self::NIKON_LENS, 4)),
        );
    }

    /** @return array{float, float}|null */
    private static function nikonFocus(string $focus, bool $little): ?array
    {
        [$at, $ways] = self::NIKON_FOCUS_AT[substr($focus, 0, 4)] ?? [0, []];
        $said = TiffBlock::numbers(substr($focus, $at, 8), 2, $little);

        return \in_array(TiffBlock::number($focus, 4, 1, $little), $ways, true)
            ? self::share(\array_slice($said, 2), \array_slice($said, 0, 2))
            : null;
    }

    private static function olympus(TiffBlock $block): self
    {
        $note = $block->ifd($block->firstIfd);
        $equipment = $block->ifd($note?->integer(self::OLYMPUS_EQUIPMENT) ?? 0);
        $settings = $block->ifd($note?->integer(self::OLYMPUS_SETTINGS) ?? 0);

        return new self(
            lens: $equipment?->text(self::OLYMPUS_LENS),
            serial: $equipment?->text(self::OLYMPUS_SERIAL),
            focus: self::middle(\array_slice($settings?->rationals(self::OLYMPUS_FOCUS, 5) ?? [], 1)),
        );
    }

    /**
     * @param list<array{int, int}> $box left, top, right and bottom in shares; 0/0 where there is none
     *
     * @return array{float, float}|null
     */
    private static function middle(array $box): ?array
    {
        if (4 !== \count($box) || \in_array(0, array_column($box, 1), true)) {
            return null;
        }
        $shares = array_map(static fn (array $share): float => $share[0] / $share[1], $box);

        return self::share([($shares[0] + $shares[2]) / 2, ($shares[1] + $shares[3]) / 2], [1, 1]);
    }

    private static function pentax(?Ifd $note): self
    {
        $iso = $note?->integer(self::PENTAX_ISO) ?? 0;
        $lens = $note?->integers(self::PENTAX_LENS, 2) ?? [];

        return new self(
            self::sensitivity(self::PENTAX_SENSITIVITIES[$iso] ?? $iso),
            serial: $note?->text(self::PENTAX_SERIAL),
            lensNumber: [] === $lens ? null : new LensNumber(LensTable::PENTAX, implode(' ', $lens)),
        );
    }

    /**
     * The settings hold the number of the lens, the longest and the shortest focal length, and how many of their units
     * are a millimetre (22 to 25); the shot its sensitivity as two numbers (1, 2): 100 / 32 times 2 to the power of a
     * 32nd of the latter, times 2 to that of a 32nd of the former.
     */
    private static function canon(?Ifd $note, string $model): self
    {
        $settings = $note?->integers(self::CANON_SETTINGS, 26) ?? [];
        $shot = $note?->integers(self::CANON_SHOT, 3) ?? [];
        $serial = $note?->integer(self::CANON_SERIAL) ?? 0;
        $iso = ($shot[2] ?? 0) > 0 ? 2 ** ($shot[2] / 32) * 100 / 32 * 2 ** (($shot[1] ?? 0) / 32) : 0.0;
        $unit = $settings[25] ?? 0;

        $longest = $settings[23] ?? 0;
        $shortest = $settings[24] ?? 0;

        return new self(
            self::sensitivity((int) round($iso)),
            $note?->text(self::CANON_LENS),
            $serial > 0 ? \sprintf('%010d', $serial) : null,
            focus: self::canonFocus($note?->integers(self::CANON_FOCUS, 2000) ?? [], $model),
            lensRange: LensRange::of([[$shortest, $unit], [$longest, $unit], [0, 0], [0, 0]]),
            lensNumber: 0 === $unit
                ? null
                : new LensNumber(LensTable::CANON, (string) $settings[22], [
                    (float) ($shortest / $unit), (float) ($longest / $unit),
                ]),
        );
    }

    /**
     * Behind the size of what follows: a mode, how many points there are and how many count, two sizes of the picture
     * (2 to 7; the second is that of the points), then widths, heights, places across and places down, from the middle
     * of the picture, and a bit for each point that was in focus. Of several the middle counts. Cameras with
     * interchangeable lenses count upwards; of others it is not known.
     *
     * @param list<int> $said
     *
     * @return array{float, float}|null
     */
    private static function canonFocus(array $said, string $model): ?array
    {
        $points = $said[2] ?? 0;
        if (!str_contains($model, 'EOS') || $points < 1 || !isset($said[7 + 4 * $points + intdiv($points + 15, 16)])) {
            return null;
        }
        $signed = static fn (int $short): int => $short < 0x8000 ? $short : $short - 0x10000;
        $across = $down = [];
        for ($n = 0; $n < $points; ++$n) {
            if (0 !== ($said[8 + 4 * $points + intdiv($n, 16)] >> $n % 16 & 1)) {
                $across[] = $signed($said[8 + 2 * $points + $n]);
                $down[] = -$signed($said[8 + 3 * $points + $n]);
            }
        }

        return [] === $across ? null : self::share(
            [$said[6] / 2 + array_sum($across) / \count($across), $said[7] / 2 + array_sum($down) / \count($down)],
            [$said[6], $said[7]],
        );
    }

    /** @param list<int> $pixels */
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
        $lens = $note?->integer(self::SONY_LENS) ?? 0; // an old lens has it, and what has no contacts

        return new self(
            rating: self::stars($note?->integer(self::SONY_RATING)),
            focus: self::share(\array_slice($focus, 2), \array_slice($focus, 0, 2)),
            lensNumber: 0 === $lens ? null : new LensNumber(LensTable::MINOLTA, (string) $lens),
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
     * @param list<float|int> $place
     * @param list<int>       $size
     *
     * @return array{float, float}|null
     */
    private static function share(array $place, array $size): ?array
    {
        if (2 !== \count($place) || 2 !== \count($size) || min($size) < 1 || 0.0 === (float) max($place)) {
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
