<?php

declare(strict_types=1);

namespace Velvet\Demo;

/**
 * A picture in the making, on libvips. Every operation gives a new picture; values run from 0 to 255 in floating point
 * until the picture is written.
 */
final class Picture
{
    private static ?\FFI $ffi = null;

    private function __construct(private readonly \FFI\CData $image)
    {
    }

    public function __destruct()
    {
        self::ffi()->g_object_unref($this->image);
    }

    private static function ffi(): \FFI
    {
        if (null === self::$ffi) {
            self::$ffi = \FFI::cdef(<<<'C'
                typedef struct _VipsImage VipsImage;
                int vips_init(const char *argv0);
                void vips_concurrency_set(int n);
                void vips_cache_set_max(int n);
                const char *vips_error_buffer(void);
                void g_object_unref(void *o);
                void g_free(void *p);
                int vips_image_get_width(VipsImage *i);
                int vips_image_get_height(VipsImage *i);
                int vips_image_get_bands(VipsImage *i);
                VipsImage *vips_image_new_from_memory_copy(const void *data, size_t size, int width, int height,
                    int bands, int format);
                VipsImage *vips_image_copy_memory(VipsImage *i);
                void *vips_image_write_to_memory(VipsImage *i, size_t *size);
                int vips_svgload_buffer(void *buf, size_t len, VipsImage **out, ...);
                int vips_perlin(VipsImage **out, int w, int h, ...);
                int vips_worley(VipsImage **out, int w, int h, ...);
                int vips_gaussnoise(VipsImage **out, int w, int h, ...);
                int vips_xyz(VipsImage **out, int w, int h, ...);
                int vips_black(VipsImage **out, int w, int h, ...);
                int vips_gaussblur(VipsImage *in, VipsImage **out, double sigma, ...);
                int vips_linear(VipsImage *in, VipsImage **out, const double *a, const double *b, int n, ...);
                int vips_maplut(VipsImage *in, VipsImage **out, VipsImage *lut, ...);
                int vips_add(VipsImage *l, VipsImage *r, VipsImage **out, ...);
                int vips_multiply(VipsImage *l, VipsImage *r, VipsImage **out, ...);
                int vips_math2_const(VipsImage *in, VipsImage **out, int op, const double *c, int n, ...);
                int vips_composite2(VipsImage *base, VipsImage *over, VipsImage **out, int mode, ...);
                int vips_extract_band(VipsImage *in, VipsImage **out, int band, ...);
                int vips_bandjoin2(VipsImage *a, VipsImage *b, VipsImage **out, ...);
                int vips_flip(VipsImage *in, VipsImage **out, int direction, ...);
                int vips_rot(VipsImage *in, VipsImage **out, int angle, ...);
                int vips_mapim(VipsImage *in, VipsImage **out, VipsImage *index, ...);
                int vips_resize(VipsImage *in, VipsImage **out, double scale, ...);
                int vips_crop(VipsImage *in, VipsImage **out, int l, int t, int w, int h, ...);
                int vips_embed(VipsImage *in, VipsImage **out, int x, int y, int w, int h, ...);
                int vips_zoom(VipsImage *in, VipsImage **out, int across, int down, ...);
                int vips_shrink(VipsImage *in, VipsImage **out, double h, double v, ...);
                int vips_premultiply(VipsImage *in, VipsImage **out, ...);
                int vips_unpremultiply(VipsImage *in, VipsImage **out, ...);
                int vips_replicate(VipsImage *in, VipsImage **out, int across, int down, ...);
                int vips_insert(VipsImage *main, VipsImage *sub, VipsImage **out, int x, int y, ...);
                int vips_flatten(VipsImage *in, VipsImage **out, ...);
                int vips_cast(VipsImage *in, VipsImage **out, int format, ...);
                int vips_copy(VipsImage *in, VipsImage **out, ...);
                int vips_jpegsave_buffer(VipsImage *in, void **buf, size_t *len, ...);
                C, 'libvips.so.42');
            self::$ffi->vips_init('demo');
            self::$ffi->vips_concurrency_set(1);
            self::$ffi->vips_cache_set_max(0);
        }

        return self::$ffi;
    }

    /** @param \Closure(\FFI, \FFI\CData): int $operation gets the place for its result; 0 says that it succeeded */
    private static function made(\Closure $operation): self
    {
        $out = self::memory('VipsImage *');
        if (0 !== $operation(self::ffi(), \FFI::addr($out))) {
            throw new \RuntimeException(self::ffi()->vips_error_buffer());
        }

        return new self($out);
    }

    private static function memory(string $type): \FFI\CData
    {
        return self::ffi()->new($type) ?? throw new \RuntimeException('There is no memory left.');
    }

    /**
     * Drawn from SVG; four bands.
     *
     * @param int $scale pixels for each unit of width, height and the drawing
     */
    public static function svg(int $width, int $height, string $body, int $scale = 1): self
    {
        $svg = \sprintf(
            '<svg xmlns="http://www.w3.org/2000/svg" width="%d" height="%d" viewBox="0 0 %d %d">%s</svg>',
            $width * $scale,
            $height * $scale,
            $width,
            $height,
            $body,
        );
        $buffer = self::memory('char['.\strlen($svg).']');
        \FFI::memcpy($buffer, $svg, \strlen($svg));

        return self::made(
            static fn (\FFI $vips, \FFI\CData $out): int => $vips->vips_svgload_buffer(
                $buffer,
                \strlen($svg),
                $out,
                null,
            ),
        )->settled();
    }

    /** @param string $bytes interleaved, eight bits a value */
    public static function fromBytes(string $bytes, int $width, int $height, int $bands): self
    {
        return new self(
            self::ffi()->vips_image_new_from_memory_copy($bytes, \strlen($bytes), $width, $height, $bands, 0),
        );
    }

    /** Smooth noise around 0, between -1 and 1; one band. */
    public static function perlin(int $width, int $height, int $cell, int $seed): self
    {
        return self::made(
            static fn (\FFI $vips, \FFI\CData $out): int => $vips->vips_perlin(
                $out,
                $width,
                $height,
                'cell_size',
                $cell,
                'seed',
                $seed,
                null,
            ),
        )->settled();
    }

    /** Distance to the nearest of scattered points: cobbles. One band. */
    public static function worley(int $width, int $height, int $cell, int $seed): self
    {
        return self::made(
            static fn (\FFI $vips, \FFI\CData $out): int => $vips->vips_worley(
                $out,
                $width,
                $height,
                'cell_size',
                $cell,
                'seed',
                $seed,
                null,
            ),
        )->settled();
    }

    public static function noise(int $width, int $height, float $sigma, int $seed): self
    {
        return self::made(
            static fn (\FFI $vips, \FFI\CData $out): int => $vips->vips_gaussnoise(
                $out,
                $width,
                $height,
                'sigma',
                $sigma,
                'mean',
                0.0,
                'seed',
                $seed,
                null,
            ),
        );
    }

    /** Each pixel's own x and y; two bands. */
    public static function coordinates(int $width, int $height): self
    {
        $whole = self::made(
            static fn (\FFI $vips, \FFI\CData $out): int => $vips->vips_xyz($out, $width, $height, null),
        );

        return self::made(
            static fn (\FFI $vips, \FFI\CData $out): int => $vips->vips_cast($whole->image, $out, 6, null),
        );
    }

    public static function plain(int $width, int $height, float $r, float $g, float $b): self
    {
        return self::made(
            static fn (\FFI $vips, \FFI\CData $out): int => $vips->vips_black($out, $width, $height, 'bands', 3, null),
        )->linear([1, 1, 1], [$r, $g, $b]);
    }

    public function width(): int
    {
        return self::ffi()->vips_image_get_width($this->image);
    }

    public function height(): int
    {
        return self::ffi()->vips_image_get_height($this->image);
    }

    private function bands(): int
    {
        return self::ffi()->vips_image_get_bands($this->image);
    }

    /** Computed now and kept, for pictures that are used more than once. */
    public function settled(): self
    {
        return new self(
            self::ffi()->vips_image_copy_memory($this->image) ?? throw new \RuntimeException(
                'There is no memory left for a picture.',
            ),
        );
    }

    /**
     * value × factor + addend, band by band.
     *
     * @param list<float|int> $factors
     * @param list<float|int> $addends
     */
    public function linear(array $factors, array $addends): self
    {
        $n = \count($factors);
        $a = self::ffi()->new("double[$n]");
        $b = self::ffi()->new("double[$n]");
        foreach ($factors as $i => $factor) {
            $a[$i] = (float) $factor;
            $b[$i] = (float) $addends[$i];
        }

        return self::made(
            fn (\FFI $vips, \FFI\CData $out): int => $vips->vips_linear($this->image, $out, $a, $b, $n, null),
        );
    }

    public function times(float $factor, float $plus = 0): self
    {
        return $this->linear([$factor], [$plus]);
    }

    public function power(float $exponent): self
    {
        $c = self::ffi()->new('double[1]');
        $c[0] = $exponent;

        return self::made(
            fn (\FFI $vips, \FFI\CData $out): int => $vips->vips_math2_const($this->image, $out, 0, $c, 1, null),
        );
    }

    /**
     * Each band's values looked up in a table of its own.
     *
     * @param non-empty-list<\Closure(int): int> $tables from 0…255 to 0…65535, one for each band
     */
    public function lookedUp(array $tables): self
    {
        $words = '';
        for ($value = 0; $value < 256; ++$value) {
            foreach ($tables as $table) {
                $words .= pack('S', $table($value));
            }
        }
        $lut = new self(
            self::ffi()->vips_image_new_from_memory_copy($words, \strlen($words), 256, 1, \count($tables), 2),
        );

        return self::made(
            fn (\FFI $vips, \FFI\CData $out): int => $vips->vips_maplut($this->image, $out, $lut->image, null),
        );
    }

    /** Rounded to whole numbers, which are added faster. */
    public function whole(): self
    {
        return self::made(fn (\FFI $vips, \FFI\CData $out): int => $vips->vips_cast($this->image, $out, 3, null));
    }

    public function plus(self $other): self
    {
        return self::made(
            fn (\FFI $vips, \FFI\CData $out): int => $vips->vips_add($this->image, $other->image, $out, null),
        );
    }

    public function multiply(self $other): self
    {
        return self::made(
            fn (\FFI $vips, \FFI\CData $out): int => $vips->vips_multiply($this->image, $other->image, $out, null),
        );
    }

    public function blur(float $sigma): self
    {
        return $sigma < 0.3
            ? $this
            : self::made(
                fn (\FFI $vips, \FFI\CData $out): int => $vips->vips_gaussblur($this->image, $out, $sigma, null),
            )->settled();
    }

    public function band(int $n, int $count = 1): self
    {
        return self::made(
            fn (\FFI $vips, \FFI\CData $out): int => $vips->vips_extract_band(
                $this->image,
                $out,
                $n,
                'n',
                $count,
                null,
            ),
        );
    }

    public function join(self $other): self
    {
        return self::made(
            fn (\FFI $vips, \FFI\CData $out): int => $vips->vips_bandjoin2($this->image, $other->image, $out, null),
        );
    }

    public function flipped(bool $vertically): self
    {
        return self::made(
            fn (\FFI $vips, \FFI\CData $out): int => $vips->vips_flip($this->image, $out, $vertically ? 1 : 0, null),
        );
    }

    /** @param int $quarters quarter turns clockwise */
    public function turned(int $quarters): self
    {
        return self::made(
            fn (\FFI $vips, \FFI\CData $out): int => $vips->vips_rot($this->image, $out, $quarters, null),
        );
    }

    public function crop(int $left, int $top, int $width, int $height): self
    {
        return self::made(
            fn (\FFI $vips, \FFI\CData $out): int => $vips->vips_crop(
                $this->image,
                $out,
                $left,
                $top,
                $width,
                $height,
                null,
            ),
        );
    }

    public function stretched(float $x, float $y): self
    {
        return self::made(
            fn (\FFI $vips, \FFI\CData $out): int => $vips->vips_resize(
                $this->image,
                $out,
                $x,
                'vscale',
                $y,
                'kernel',
                1,
                null,
            ),
        )->settled();
    }

    /** At exactly this size; what is transparent lends no colour to what lies beside it. */
    public function sized(int $width, int $height): self
    {
        if (4 !== $this->bands()) {
            return $this->sizedBandByBand($width, $height);
        }
        $whole = self::made(
            fn (\FFI $vips, \FFI\CData $out): int => $vips->vips_premultiply($this->image, $out, null),
        )->sizedBandByBand($width, $height);

        return self::made(
            static fn (\FFI $vips, \FFI\CData $out): int => $vips->vips_unpremultiply($whole->image, $out, null),
        );
    }

    private function sizedBandByBand(int $width, int $height): self
    {
        return self::made(
            fn (\FFI $vips, \FFI\CData $out): int => $vips->vips_resize(
                $this->image,
                $out,
                (float) ($width / $this->width()),
                'vscale',
                (float) ($height / $this->height()), // told by its type among arguments without one
                'kernel',
                1,
                null,
            ),
        );
    }

    /** So many times as large, and so soft that the squares of its pixels are not seen. */
    public function zoomed(int $times): self
    {
        return 1 === $times ? $this : self::made(
            fn (\FFI $vips, \FFI\CData $out): int => $vips->vips_zoom($this->image, $out, $times, $times, null),
        )->blur(0.45 * $times);
    }

    /** A pixel for each square of so many, their mean. */
    public function shrunk(int $edge): self
    {
        return 1 === $edge ? $this : self::made(
            fn (\FFI $vips, \FFI\CData $out): int => $vips->vips_shrink(
                $this->image,
                $out,
                (float) $edge,
                (float) $edge,
                null,
            ),
        )->settled();
    }

    /** Laid side by side and one below another, so often that it covers a picture of this size. */
    public function tiled(int $width, int $height): self
    {
        return self::made(
            fn (\FFI $vips, \FFI\CData $out): int => $vips->vips_replicate(
                $this->image,
                $out,
                intdiv($width, $this->width()) + 2,
                intdiv($height, $this->height()) + 2,
                null,
            ),
        );
    }

    /** Each pixel taken from where the index says. */
    public function displaced(self $index): self
    {
        return self::made(
            fn (\FFI $vips, \FFI\CData $out): int => $vips->vips_mapim(
                $this->image,
                $out,
                $index->image,
                'extend',
                1,
                null,
            ),
        )->settled();
    }

    /** A picture with transparency laid on this one, its corner at x, y. */
    public function under(self $over, int $x = 0, int $y = 0): self
    {
        // only the part that changes is composited
        $left = max(0, $x);
        $top = max(0, $y);
        $width = min($this->width(), $x + $over->width()) - $left;
        $height = min($this->height(), $y + $over->height()) - $top;
        if ($width <= 0 || $height <= 0) {
            return $this;
        }
        $part = $over->crop($left - $x, $top - $y, $width, $height);
        $ground = $this->crop($left, $top, $width, $height);
        $changed = self::made(
            static fn (\FFI $vips, \FFI\CData $out): int => $vips->vips_composite2(
                $ground->image,
                $part->image,
                $out,
                2,
                null,
            ),
        )->colours();

        return $width === $this->width() && $height === $this->height()
            ? $changed
            : $this->inserted($changed->finished(), $left, $top);
    }

    public function colours(): self
    {
        return $this->bands() > 3 ? $this->band(0, 3) : $this;
    }

    /** The colours of a picture with transparency on black: light that can be added. */
    public function light(): self
    {
        return self::made(fn (\FFI $vips, \FFI\CData $out): int => $vips->vips_flatten($this->image, $out, null));
    }

    /** A picture placed on a larger one, its edges repeated. */
    public function embedded(int $x, int $y, int $width, int $height): self
    {
        return self::made(
            fn (\FFI $vips, \FFI\CData $out): int => $vips->vips_embed(
                $this->image,
                $out,
                $x,
                $y,
                $width,
                $height,
                'extend',
                1,
                null,
            ),
        );
    }

    /** Larger on every side, the new margins mirroring what lies beside them. */
    public function mirrored(int $x, int $y): self
    {
        return self::made(
            fn (\FFI $vips, \FFI\CData $out): int => $vips->vips_embed(
                $this->image,
                $out,
                $x,
                $y,
                $this->width() + 2 * $x,
                $this->height() + 2 * $y,
                'extend',
                3,
                null,
            ),
        );
    }

    public function inserted(self $part, int $x, int $y): self
    {
        return self::made(
            fn (\FFI $vips, \FFI\CData $out): int => $vips->vips_insert($this->image, $part->image, $out, $x, $y, null),
        );
    }

    /** Eight bits, ready to be written or laid over another. */
    public function finished(): self
    {
        $eight = self::made(fn (\FFI $vips, \FFI\CData $out): int => $vips->vips_cast($this->image, $out, 0, null));

        return self::made(
            fn (\FFI $vips, \FFI\CData $out): int => $vips->vips_copy(
                $eight->image,
                $out,
                'interpretation',
                1 === $this->bands() ? 1 : 22,
                null,
            ),
        )->settled();
    }

    public function jpeg(int $quality): string
    {
        $ffi = self::ffi();
        $buffer = self::memory('void *');
        $length = self::memory('size_t[1]');
        if (0 !== $ffi->vips_jpegsave_buffer(
            $this->image,
            \FFI::addr($buffer),
            $length,
            'Q',
            $quality,
            'strip',
            1,
            null,
        )) {
            throw new \RuntimeException($ffi->vips_error_buffer());
        }

        return self::taken($buffer, $length);
    }

    /** The values as little-endian 16-bit unsigned integers, row by row. */
    public function words(): string
    {
        $cast = self::made(fn (\FFI $vips, \FFI\CData $out): int => $vips->vips_cast($this->image, $out, 2, null));
        $size = self::memory('size_t[1]');

        return self::taken(
            self::ffi()->vips_image_write_to_memory($cast->image, $size) ?? throw new \RuntimeException(
                self::ffi()->vips_error_buffer(),
            ),
            $size,
        );
    }

    /** The bytes in memory that libvips allotted, which is given back. */
    private static function taken(\FFI\CData $memory, \FFI\CData $length): string
    {
        $ffi = self::ffi();
        $count = $length[0];
        \assert(\is_int($count) && $count >= 0);
        $bytes = \FFI::string($ffi->cast('char *', $memory) ?? $memory, $count);
        $ffi->g_free($memory);

        return $bytes;
    }
}
