<?php

declare(strict_types=1);

namespace Velvet\Server\Work\Pictures;

/**
 * A picture in the hands of libvips, called directly: shrunk while decoding, turned upright, in sRGB. Only a process
 * that is shut in does this ({@see Drawer}).
 */
final class Vips
{
    private static ?\FFI $ffi = null;

    /** VIPS_INTERPRETATION_B_W */
    private const B_W = 1;
    /** Bytes that are read at once. A JPEG's profile stands within the first of them, behind Exif and XMP. */
    private const PIECE = 512 * 1024;
    /** VIPS_FORMAT_UCHAR */
    private const UCHAR = 0;
    /** VIPS_ACCESS_SEQUENTIAL */
    private const ROW_BY_ROW = 1;
    /** How many times smaller a JPEG can be decoded. */
    private const SHRINKS = [8, 4, 2];

    /**
     * By EXIF orientation: whether vips_flip (0 left-right, 1 upside down) or vips_rot (quarter turns clockwise), and
     * its argument.
     */
    private const TURNS = [
        2 => [[true, 0]],
        3 => [[false, 2]],
        4 => [[true, 1]],
        5 => [[false, 1], [true, 0]],
        6 => [[false, 1]],
        7 => [[false, 3], [true, 0]],
        8 => [[false, 3]],
    ];

    private function __construct(private readonly \FFI\CData $image)
    {
    }

    public function __destruct()
    {
        self::ffi()->g_object_unref($this->image);
    }

    /**
     * The picture at the size that is ordered; a smaller one stays as it is, and a JPEG that was decoded to what is
     * hardly larger.
     *
     * @param resource $file that holds it
     *
     * @throws PictureUndrawable
     */
    public static function shrunk($file, DrawingOrder $order): self
    {
        $ffi = self::ffi();
        [$buffer, $head] = self::read($ffi, $file, $order);
        $edge = $order->edge();
        $isJpeg = str_starts_with($head, "\xFF\xD8");
        // a JPEG without a profile is in sRGB already, and taking it there again would cost as much as all the rest
        $profile = $isJpeg && !str_contains($head, "ICC_PROFILE\0") ? [] : ['export_profile', 'srgb'];
        $turns = self::TURNS[$order->turn->value] ?? [];
        $images = [];
        try {
            if ($isJpeg) {
                $images[] = self::ofJpeg($ffi, $buffer, $order->length, $edge);
                $decoded = self::longEdge($ffi, $images[0]);
                $edge = $decoded <= $order->most() ? $decoded : $edge;
            }
            $size = ['height', $edge, 'size', 2, ...$profile, null];
            $images[] = self::call(
                $ffi,
                static fn (\FFI\CData $out): int => $isJpeg
                    ? $ffi->vips_thumbnail_image($images[0], $out, $edge, ...$size)
                    : $ffi->vips_thumbnail_buffer($buffer, $order->length, $out, $edge, ...$size),
            );
            if ([] !== $turns) {
                // it comes row by row, and a turned one is asked for in another order
                $images[] = $ffi->vips_image_copy_memory($images[\count($images) - 1]) ?? throw self::failed($ffi);
            }
            foreach ($turns as [$flips, $argument]) {
                $last = $images[\count($images) - 1];
                $images[] = self::call(
                    $ffi,
                    static fn (\FFI\CData $out): int => $flips
                        ? $ffi->vips_flip($last, $out, $argument, null)
                        : $ffi->vips_rot($last, $out, $argument, null),
                );
            }

            // in memory: decoded once, however often it is used, and free of what it was made from
            return new self($ffi->vips_image_copy_memory($images[\count($images) - 1]) ?? throw self::failed($ffi));
        } finally {
            foreach ($images as $image) {
                $ffi->g_object_unref($image);
            }
        }
    }

    /**
     * A JPEG as small as its decoder can make it and still as large as is wanted. Left to itself, libvips has it made
     * at least twice as large, which takes as long again and is not seen: what the decoder leaves out it leaves out by
     * frequency, not by row.
     *
     * @throws PictureUndrawable
     */
    private static function ofJpeg(\FFI $ffi, \FFI\CData $buffer, int $length, int $longEdge): \FFI\CData
    {
        $loaded = static fn (int $shrink): \FFI\CData => self::call(
            $ffi,
            static fn (\FFI\CData $out): int => $ffi->vips_jpegload_buffer(
                $buffer,
                $length,
                $out,
                ...['shrink', $shrink, 'access', self::ROW_BY_ROW, null],
            ),
        );
        $whole = $loaded(1); // its head, until more is asked for
        $edge = self::longEdge($ffi, $whole);
        foreach (self::SHRINKS as $shrink) {
            if (intdiv($edge, $shrink) >= $longEdge) {
                $ffi->g_object_unref($whole);

                return $loaded($shrink);
            }
        }

        return $whole;
    }

    /**
     * The encoded picture in memory of libvips' kind: it is never a string of PHP as a whole.
     *
     * @param resource $file
     *
     * @return array{\FFI\CData, string} and its first bytes
     *
     * @throws PictureUndrawable
     */
    private static function read(\FFI $ffi, $file, DrawingOrder $order): array
    {
        $pieces = intdiv($order->length + self::PIECE - 1, self::PIECE);
        $buffer = self::memory($ffi, \sprintf('char[%d][%d]', $pieces, self::PIECE));
        $head = '';
        fseek($file, $order->offset);
        for ($n = 0; $n < $pieces; ++$n) {
            $most = min(self::PIECE, $order->length - $n * self::PIECE);
            $piece = (string) stream_get_contents($file, $most);
            if (\strlen($piece) !== $most) {
                throw PictureUndrawable::because('it cannot be read to its end');
            }
            $head = 0 === $n ? $piece : $head;
            $place = $buffer[$n];
            \assert($place instanceof \FFI\CData);
            \FFI::memcpy($place, $piece, $most); // FFI takes what it copies by reference
        }

        return [$buffer, $head];
    }

    /**
     * Shrunk to a size where it is much larger.
     *
     * @throws PictureUndrawable
     */
    public function fit(PictureSize $size): self
    {
        return self::longEdge(self::ffi(), $this->image) <= $size->most() ? $this : $this->shrink($size->value);
    }

    /** @throws PictureUndrawable */
    public function shrink(int $longEdge): self
    {
        $ffi = self::ffi();
        if (self::longEdge($ffi, $this->image) <= $longEdge) {
            return $this;
        }

        return new self(
            self::call(
                $ffi,
                fn (\FFI\CData $out): int => $ffi->vips_thumbnail_image(
                    $this->image,
                    $out,
                    $longEdge,
                    'height',
                    $longEdge,
                    'size',
                    2,
                    null,
                ),
            ),
        );
    }

    /**
     * @return string a JPEG without anything but the picture
     *
     * @throws PictureUndrawable
     */
    public function jpeg(int $quality): string
    {
        $ffi = self::ffi();
        [$memory, $size] = [self::memory($ffi, 'void *'), self::memory($ffi, 'size_t[1]')];
        $options = ['Q', $quality, 'strip', 1, 'optimize_coding', 1, null];
        if (0 !== $ffi->vips_jpegsave_buffer($this->image, \FFI::addr($memory), $size, ...$options)) {
            throw self::failed($ffi);
        }

        return self::taken($ffi, $memory, $size);
    }

    /**
     * The picture in grey.
     *
     * @return array{string, positive-int} one byte a pixel, row by row, and the pixels of a row
     *
     * @throws PictureUndrawable
     */
    public function grey(): array
    {
        $ffi = self::ffi();
        $images = [];
        try {
            $images[] = $grey = self::call(
                $ffi,
                fn (\FFI\CData $out): int => $ffi->vips_colourspace($this->image, $out, self::B_W, null),
            );
            $images[] = $band = self::call(
                $ffi,
                static fn (\FFI\CData $out): int => $ffi->vips_extract_band($grey, $out, 0, null),
            ); // without transparency
            $images[] = $bytes = self::call(
                $ffi,
                static fn (\FFI\CData $out): int => $ffi->vips_cast($band, $out, self::UCHAR, null),
            );
            $size = self::memory($ffi, 'size_t[1]');
            $memory = $ffi->vips_image_write_to_memory($bytes, $size) ?? throw self::failed($ffi);

            return [self::taken($ffi, $memory, $size), max(1, $ffi->vips_image_get_width($bytes))];
        } finally {
            foreach ($images as $image) {
                $ffi->g_object_unref($image);
            }
        }
    }

    private static function longEdge(\FFI $ffi, \FFI\CData $image): int
    {
        return max($ffi->vips_image_get_width($image), $ffi->vips_image_get_height($image));
    }

    /** @param \Closure(\FFI\CData): int $operation gets the place for its result */
    private static function call(\FFI $ffi, \Closure $operation): \FFI\CData
    {
        $out = self::memory($ffi, 'VipsImage *');
        if (0 !== $operation(\FFI::addr($out))) {
            throw self::failed($ffi);
        }

        return $out;
    }

    /** Memory that was given to us, as a string; it is given back. */
    private static function taken(\FFI $ffi, \FFI\CData $memory, \FFI\CData $size): string
    {
        $count = $size[0];
        \assert(\is_int($count) && $count > 0);
        $bytes = \FFI::string($ffi->cast('char *', $memory) ?? $memory, $count);
        $ffi->g_free($memory);

        return $bytes;
    }

    private static function memory(\FFI $ffi, string $type): \FFI\CData
    {
        return $ffi->new($type) ?? throw PictureUndrawable::because('there is no memory left');
    }

    private static function failed(\FFI $ffi): PictureUndrawable
    {
        $why = trim(explode("\n", $ffi->vips_error_buffer())[0]);
        $ffi->vips_error_clear();

        return PictureUndrawable::because(\sprintf('the decoder says “%s”', $why));
    }

    private static function ffi(): \FFI
    {
        if (null === self::$ffi) {
            self::$ffi = \FFI::cdef(<<<'C'
                typedef struct _VipsImage VipsImage;
                int vips_init(const char *argv0);
                void vips_concurrency_set(int concurrency);
                void vips_cache_set_max(int max);
                int vips_thumbnail_buffer(void *buf, size_t len, VipsImage **out, int width, ...);
                int vips_thumbnail_image(VipsImage *in, VipsImage **out, int width, ...);
                int vips_jpegload_buffer(void *buf, size_t len, VipsImage **out, ...);
                VipsImage *vips_image_copy_memory(VipsImage *in);
                int vips_image_get_width(const VipsImage *in);
                int vips_image_get_height(const VipsImage *in);
                int vips_extract_band(VipsImage *in, VipsImage **out, int band, ...);
                int vips_cast(VipsImage *in, VipsImage **out, int format, ...);
                int vips_colourspace(VipsImage *in, VipsImage **out, int space, ...);
                void *vips_image_write_to_memory(VipsImage *in, size_t *size);
                void g_free(void *memory);
                int vips_rot(VipsImage *in, VipsImage **out, int angle, ...);
                int vips_flip(VipsImage *in, VipsImage **out, int direction, ...);
                int vips_jpegsave_buffer(VipsImage *in, void **memory, size_t *size, ...);
                const char *vips_error_buffer(void);
                void vips_error_clear(void);
                void g_object_unref(void *object);
                C, 'libvips.so.42');
            // a line for each part of each cut picture; what cannot be drawn at all is an error
            putenv('VIPS_WARNING=off');
            self::$ffi->vips_init('velvet');
            self::$ffi->vips_concurrency_set(1);
            self::$ffi->vips_cache_set_max(0);
        }

        return self::$ffi;
    }
}
