<?php

declare(strict_types=1);

namespace Velvet\Core\Dng;

/**
 * LibRaw, from Debian, for raw files that are no plain TIFF structures: it gives the samples as the sensor had them,
 * and what it knows of levels and colours. It is native code that reads what may be crafted: whoever loads it shuts the
 * process in first.
 */
final readonly class LibRaw
{
    private const LIBRARY = 'libraw.so.20';
    /** Its functions, addresses being plain numbers. */
    private const FUNCTIONS = <<<'C'
        long libraw_init(unsigned flags);
        int libraw_open_file(long raw, const char *path);
        int libraw_open_buffer(long raw, char *bytes, size_t size);
        int libraw_unpack(long raw);
        void libraw_close(long raw);
        void libraw_set_dataerror_handler(long raw, void (*told)(void *data, const char *file, int offset), void *data);
        const char *libraw_strerror(int error);
        int libraw_get_raw_width(long raw);
        int libraw_get_raw_height(long raw);
        int libraw_get_color_maximum(long raw);
        float libraw_get_cam_mul(long raw, int channel);
        long libraw_get_iparams(long raw);
        long libraw_get_imgother(long raw);
        C;

    /**
     * Where in memory what it found lies, in bytes from where `libraw_get_imgother` points (libraw_types.h of 0.20 with
     * 64 bits: behind libraw_imgother_t and libraw_thumbnail_t comes libraw_rawdata_t), and how long all of that is.
     */
    private const RAW = 824;
    private const ONE_PLANE = self::RAW + 8;
    private const FOUR_PLANES = self::RAW + 16;
    private const THREE_PLANES = self::RAW + 24;
    private const CAMERA = self::RAW + 72;      // libraw_iparams_t
    private const SIZES = self::RAW + 512;      // libraw_image_sizes_t: 16 bits each, then the row's length in bytes
    private const PITCH = self::SIZES + 16;
    private const MASKS = self::SIZES + 36;     // 8 times top, left, bottom, right in 32 bits
    private const TURNED = self::RAW + 702;     // whether the sensor's rows lie aslant, 16 bits
    private const COLOUR = self::RAW + 704;     // libraw_colordata_t, which begins with a curve
    private const CHANNEL_BLACK = self::COLOUR + 131_072;
    private const BLACK = self::COLOUR + 147_488;
    private const MAXIMUM = self::COLOUR + 147_496;
    private const AS_SHOT = self::COLOUR + 147_672;
    private const DAYLIGHT = self::COLOUR + 147_688;
    private const FROM_XYZ = self::COLOUR + 147_848;
    private const ALL = self::FROM_XYZ + 48;
    /** What it says of its own work, 32 bits each: `progress_flags` and `process_warnings` stand before `color`. */
    private const PROGRESS = -187_048;
    /** LIBRAW_PROGRESS_LOAD_RAW, and of LIBRAW_WARN_… the one that says nothing of the samples: BAD_CAMERA_WB. */
    private const SAMPLES_WERE_READ = 1 << 3;
    private const NO_WHITE_BALANCE = 1 << 2;
    /** Within libraw_iparams_t. */
    private const FOVEON = 336;
    private const COLOURS = 340;
    private const FILTERS = 344;
    private const SIX_BY_SIX = 348;
    private const NAMES = 420;
    private const ALL_OF_CAMERA = 425;
    /** Of the levels by channel: what comes before those of a pattern of its own, and the most of them. */
    private const BEFORE_PATTERN = 6;
    private const MOST_LEVELS = 4098;
    /** mallopt(3): M_PERTURB; memory that nobody wrote to holds another value at each of the two readings. */
    private const PERTURB = -6;
    private const FILLED_WITH = [0x5A, 0xA5];
    /** What is laid behind the file for the second reading: bytes that are all unlike each other, so many of them. */
    private const TAIL = 4 * 1024 * 1024;

    private function __construct(private \FFI $functions, private \FFI $memory)
    {
    }

    /** Null where it is not installed. */
    public static function load(): ?self
    {
        try {
            return new self(
                \FFI::cdef(self::FUNCTIONS, self::LIBRARY),
                \FFI::cdef(
                    'void *memmove(char *to, long from, size_t length); int mallopt(int parameter, int value);',
                    'libc.so.6',
                ),
            );
        } catch (\FFI\Exception) {
            return null;
        }
    }

    /**
     * Some of its decoders go on where a file ends, with what happens to lie in memory. So it reads twice: what was
     * never written to, and what follows behind the file's end, differs between the two readings; samples that depend
     * on either differ, too, and are none.
     *
     * @param string $path absolute
     *
     * @throws DngRefused
     */
    public function image(string $path): RawImage
    {
        $this->memory->mallopt(self::PERTURB, self::FILLED_WITH[0]);
        $image = $this->read(static fn (\FFI $c, int $raw): int => $c->libraw_open_file($raw, $path));
        $this->memory->mallopt(self::PERTURB, self::FILLED_WITH[1]);
        try {
            $again = $this->readWithTail($path) ?? $this->read(
                static fn (\FFI $c, int $raw): int => $c->libraw_open_file($raw, $path),
            );
        } finally {
            $this->memory->mallopt(self::PERTURB, 0);
        }
        if ($image->samples !== $again->samples) {
            throw DngRefused::structure('it is cut short, or damaged');
        }

        return $image;
    }

    /** Null where it knows the file by its size, so that it does not know a longer one. */
    private function readWithTail(string $path): ?RawImage
    {
        $bytes = (string) file_get_contents($path);
        $size = \strlen($bytes);
        $tail = '';
        for ($n = 0; \strlen($tail) < self::TAIL; ++$n) {
            $tail .= hash('sha512', (string) $n, true);
        }
        $held = $this->memory->new('char['.($size + self::TAIL).']') ?? throw new \LogicException('No memory.');
        \FFI::memcpy($held, $bytes.$tail, $size + self::TAIL);
        try {
            return $this->read(
                static fn (\FFI $c, int $raw): int => $c->libraw_open_buffer($raw, $held, $size + self::TAIL),
            );
        } catch (DngRefused $e) {
            return $e->isOfUnknownKind ? null : throw $e;
        }
    }

    /**
     * @param \Closure(\FFI, int): int $open gives 0 where it went well
     *
     * @throws DngRefused
     */
    private function read(\Closure $open): RawImage
    {
        $c = $this->functions;
        $raw = $c->libraw_init(0);
        $isBroken = false;
        $c->libraw_set_dataerror_handler($raw, static function () use (&$isBroken): void { $isBroken = true; }, null);
        try {
            if (0 !== $error = $open($c, $raw)) {
                throw DngRefused::unknownRaw('LibRaw says, '.lcfirst($c->libraw_strerror($error)));
            }
            [$width, $height] = [$c->libraw_get_raw_width($raw), $c->libraw_get_raw_height($raw)];
            RawImage::mustBeSane($width, $height, 1); // before memory is asked for
            $camera = $this->bytes($c->libraw_get_iparams($raw), self::ALL_OF_CAMERA);
            if (0 !== self::long($camera, self::FOVEON) || 3 !== self::long($camera, self::COLOURS)) {
                throw DngRefused::unknownRaw('its colours are not red, green and blue');
            }
            // in some formats it goes on, with what is not there as black
            if (0 !== $c->libraw_unpack($raw) || $isBroken) {
                throw DngRefused::structure('it is cut short, or damaged');
            }
            $at = $c->libraw_get_imgother($raw);
            $said = $this->bytes($at + self::PROGRESS, 8);
            if (!self::saysThatAllWasRead(self::long($said, 0), self::long($said, 4))) {
                throw DngRefused::structure('LibRaw says that not all of it could be read');
            }
            $found = $this->bytes($at, self::ALL);
            if (
                substr($found, self::CAMERA, self::ALL_OF_CAMERA) !== $camera
                || $width !== self::short($found, self::SIZES + 2)
                || $height !== self::short($found, self::SIZES)
                || $c->libraw_get_color_maximum($raw) !== self::long($found, self::MAXIMUM)
                || $c->libraw_get_cam_mul($raw, 1) !== self::float($found, self::AS_SHOT + 4)
            ) {
                throw DngRefused::unknownRaw('the LibRaw that is installed lays its data out in another way');
            }

            return $this->found($found, $camera, $width, $height);
        } finally {
            $c->libraw_close($raw);
        }
    }

    /**
     * Whether it came as far as the samples and has nothing to say against them.
     *
     * @param int $progress its `LibRaw_progress` bits
     * @param int $warnings its `LibRaw_warnings` bits
     */
    public static function saysThatAllWasRead(int $progress, int $warnings): bool
    {
        return 0 !== ($progress & self::SAMPLES_WERE_READ) && 0 === ($warnings & ~self::NO_WHITE_BALANCE);
    }

    /** @throws DngRefused */
    private function found(string $found, string $camera, int $width, int $height): RawImage
    {
        [$rows, $columns, $top, $left] = array_map(
            static fn (int $n): int => self::short($found, self::SIZES + $n),
            [4, 6, 8, 10],
        );
        if (
            $rows < 1
            || $columns < 1
            || $top + $rows > $height
            || $left + $columns > $width
            || 0 !== self::short($found, self::TURNED)
        ) {
            throw DngRefused::unknownRaw('its pixels do not stand in plain rows');
        }
        $masked = [];
        for ($at = self::MASKS; $at < self::MASKS + 8 * 16; $at += 16) {
            $mask = array_map(static fn (int $n): int => self::long($found, $at + $n), [0, 4, 8, 12]);
            if ($mask[2] > $mask[0] && $mask[3] > $mask[1] && $mask[2] <= $height && $mask[3] <= $width) {
                array_push($masked, ...$mask);
            }
        }
        [$channels, $across] = self::channels($camera);
        $names = substr($camera, self::NAMES, 4);
        $pattern = array_map(static fn (int $channel): int => self::colour($names, $channel), $channels);
        [$black, $blackWidth] = self::black($found, $channels, $across);

        return new RawImage(
            $width, $height, $this->samples($found, $width, $height, [] === $pattern), 16, [] === $pattern ? 3 : 1,
            $pattern, $across, $black, max(1, self::long($found, self::MAXIMUM)),
            null, [$top, $left, $top + $rows, $left + $columns], $masked, $blackWidth, self::colours($found),
        );
    }

    /** @return string 16 bits each, little-endian, as they lie in memory */
    private function samples(string $found, int $width, int $height, bool $isLinear): string
    {
        [$one, $three, $four] = [
            self::address($found, self::ONE_PLANE),
            self::address($found, self::THREE_PLANES),
            self::address($found, self::FOUR_PLANES),
        ];
        if (!$isLinear && 0 !== $one) {
            $pitch = self::long($found, self::PITCH);
            if (2 * $width === $pitch) {
                return $this->bytes($one, 2 * $width * $height);
            }
            $rows = '';
            for ($row = 0; $row < $height; ++$row) {
                $rows .= $this->bytes($one + $row * $pitch, 2 * $width);
            }

            return $rows;
        }
        if ($isLinear && 0 !== $three) {
            return $this->bytes($three, 6 * $width * $height);
        }
        if ($isLinear && 0 !== $four) {
            return implode(
                '',
                array_map(
                    static fn (string $pixel): string => substr($pixel, 0, 6),
                    str_split($this->bytes($four, 8 * $width * $height), 8),
                ),
            );
        }
        throw DngRefused::unknownRaw('its samples are not whole numbers');
    }

    /**
     * The channels of the filter array, from the active area's first place on.
     *
     * @return array{list<int>, int} row by row, and how many stand side by side; none for linear data
     */
    private static function channels(string $camera): array
    {
        $filters = self::long($camera, self::FILTERS);
        if (0 === $filters) {
            return [[], 1];
        }
        if (9 === $filters) {
            return [
                array_map(static fn (int $place): int => \ord($camera[self::SIX_BY_SIX + $place]), range(0, 35)),
                6,
            ];
        }
        if ($filters < 1000) {
            throw DngRefused::unknownRaw('its filter array has a pattern of its own kind');
        }
        // two bits for each place of eight rows of two
        $channels = array_map(static fn (int $place): int => $filters >> 2 * $place & 3, range(0, 15));
        while (
            \count($channels) > 4
            && \array_slice($channels, 0, intdiv(\count($channels), 2))
                === \array_slice($channels, intdiv(\count($channels), 2))
        ) {
            $channels = \array_slice($channels, 0, intdiv(\count($channels), 2));
        }

        return [$channels, 2];
    }

    private static function colour(string $names, int $channel): int
    {
        $colour = strpos('RGB', $names[$channel] ?? '-');

        return false === $colour ? throw DngRefused::unknownRaw('its colours are not red, green and blue') : $colour;
    }

    /**
     * One level for all, one for each channel, and one for each place of a pattern of its own are summed up.
     *
     * @param list<int> $channels
     *
     * @return array{list<int>, int} row by row, and how many stand side by side
     */
    private static function black(string $found, array $channels, int $across): array
    {
        $of = static fn (int $n): int => self::long($found, self::CHANNEL_BLACK + 4 * $n);
        $black = self::long($found, self::BLACK);
        if ([] === $channels) {
            return [[$black + $of(0)], 1];
        }
        $down = intdiv(\count($channels), $across);
        [$rows, $columns] = [$of(4), $of(5)];
        if ($rows < 1 || $columns < 1 || $rows * $columns > self::MOST_LEVELS) {
            [$rows, $columns] = [0, 0];
        }
        [$allRows, $allColumns] = 0 === $rows
            ? [$down, $across]
            : [self::together($down, $rows), self::together($across, $columns)];
        $levels = [];
        for ($y = 0; $y < $allRows; ++$y) {
            for ($x = 0; $x < $allColumns; ++$x) {
                $levels[] = $black + $of(
                    $channels[$y % $down * $across + $x % $across],
                ) + (0 === $rows ? 0 : $of(self::BEFORE_PATTERN + $y % $rows * $columns + $x % $columns));
            }
        }

        return 1 === \count(array_unique($levels)) ? [[$levels[0]], 1] : [$levels, $allColumns];
    }

    /** The least number that both go into. */
    private static function together(int $a, int $b): int
    {
        $n = $a;
        while (0 !== $n % $b) {
            $n += $a;
        }

        return $n;
    }

    private static function colours(string $found): SensorColours
    {
        $matrix = array_map(static fn (int $n): float => self::float($found, self::FROM_XYZ + 4 * $n), range(0, 8));
        $gains = self::float($found, self::AS_SHOT) > 0 ? self::AS_SHOT : self::DAYLIGHT;
        $neutral = array_map(
            static fn (int $n): float => self::float($found, $gains + 4 * $n) > 0
                ? 1 / self::float($found, $gains + 4 * $n)
                : 1.0,
            [0, 1, 2],
        );
        $most = max($neutral);

        return new SensorColours(
            [0.0] === array_values(array_unique($matrix)) ? null : $matrix,
            array_map(static fn (float $value): float => $value / $most, $neutral),
        );
    }

    private function bytes(int $address, int $length): string
    {
        $held = $this->memory->new('char['.$length.']') ?? throw new \LogicException('No memory.');
        $this->memory->memmove($held, $address, $length);

        return \FFI::string($held, max(0, $length));
    }

    private static function short(string $bytes, int $at): int
    {
        return \ord($bytes[$at]) | \ord($bytes[$at + 1]) << 8;
    }

    private static function long(string $bytes, int $at): int
    {
        return self::short($bytes, $at) | self::short($bytes, $at + 2) << 16;
    }

    private static function address(string $bytes, int $at): int
    {
        return self::long($bytes, $at) | self::long($bytes, $at + 4) << 32;
    }

    private static function float(string $bytes, int $at): float
    {
        $value = unpack('g', $bytes, $at)[1] ?? 0.0;

        return \is_float($value) && is_finite($value) ? $value : 0.0;
    }
}
