<?php

declare(strict_types=1);

namespace Velvet\Server\Pictures;

/** libvips, called directly: shrinks a JPEG while decoding it, turns it upright and converts it to sRGB. */
final class Vips
{
    private static ?\FFI $ffi = null;

    /**
     * @param string            $jpeg        the encoded picture
     * @param int<1, 8>         $orientation EXIF orientation, for a picture that does not carry its own
     *
     * @throws PictureUndrawable
     */
    public static function shrink(string $jpeg, int $longEdge, int $quality, int $orientation, string $target): void
    {
        $ffi = self::ffi();
        $buffer = self::memory($ffi, 'char['.\strlen($jpeg).']');
        \FFI::memcpy($buffer, $jpeg, \strlen($jpeg));
        $images = [self::call($ffi, static fn (\FFI\CData $out): int => $ffi->vips_thumbnail_buffer($buffer, \strlen($jpeg), $out, $longEdge, 'height', $longEdge, 'size', 2, 'export_profile', 'srgb', null))];
        try {
            foreach (self::TURNS[$orientation] ?? [] as [$flips, $argument]) {
                $last = $images[\count($images) - 1];
                $images[] = self::call($ffi, static fn (\FFI\CData $out): int => $flips ? $ffi->vips_flip($last, $out, $argument, null) : $ffi->vips_rot($last, $out, $argument, null));
            }
            if (0 !== $ffi->vips_jpegsave($images[\count($images) - 1], $target, 'Q', $quality, 'strip', 1, 'optimize_coding', 1, null)) {
                throw self::failed($ffi);
            }
        } finally {
            foreach ($images as $image) {
                $ffi->g_object_unref($image);
            }
        }
    }

    /**
     * A JPEG in grey, one byte a pixel, row by row.
     *
     * @throws PictureUndrawable
     */
    public static function grey(string $path, int $longEdge): string
    {
        $ffi = self::ffi();
        $small = self::call($ffi, static fn (\FFI\CData $out): int => $ffi->vips_thumbnail($path, $out, $longEdge, 'size', 2, null));
        $images = [$small];
        try {
            $images[] = $grey = self::call($ffi, static fn (\FFI\CData $out): int => $ffi->vips_colourspace($small, $out, self::B_W, null));
            $size = self::memory($ffi, 'size_t[1]');
            $memory = $ffi->vips_image_write_to_memory($grey, $size);
            $count = $size[0];
            \assert(\is_int($count) && $count >= 0);
            $bytes = \FFI::string($ffi->cast('char *', $memory) ?? $memory, $count);
            $ffi->g_free($memory);

            return $bytes;
        } finally {
            foreach ($images as $image) {
                $ffi->g_object_unref($image);
            }
        }
    }

    /** VIPS_INTERPRETATION_B_W */
    private const B_W = 1;

    /** By EXIF orientation: whether vips_flip (0 left-right, 1 upside down) or vips_rot (quarter turns clockwise), and its argument. */
    private const TURNS = [
        2 => [[true, 0]],
        3 => [[false, 2]],
        4 => [[true, 1]],
        5 => [[false, 1], [true, 0]],
        6 => [[false, 1]],
        7 => [[false, 3], [true, 0]],
        8 => [[false, 3]],
    ];

    /** @param \Closure(\FFI\CData): int $operation gets the place for its result */
    private static function call(\FFI $ffi, \Closure $operation): \FFI\CData
    {
        $out = self::memory($ffi, 'VipsImage *');
        if (0 !== $operation(\FFI::addr($out))) {
            throw self::failed($ffi);
        }

        return $out;
    }

    private static function memory(\FFI $ffi, string $type): \FFI\CData
    {
        return $ffi->new($type) ?? throw PictureUndrawable::because('there is no memory left');
    }

    private static function failed(\FFI $ffi): PictureUndrawable
    {
        $reason = \FFI::string($ffi->vips_error_buffer());
        $ffi->vips_error_clear();

        return PictureUndrawable::because(trim($reason));
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
                int vips_thumbnail(const char *filename, VipsImage **out, int width, ...);
                int vips_colourspace(VipsImage *in, VipsImage **out, int space, ...);
                void *vips_image_write_to_memory(VipsImage *in, size_t *size);
                void g_free(void *memory);
                int vips_rot(VipsImage *in, VipsImage **out, int angle, ...);
                int vips_flip(VipsImage *in, VipsImage **out, int direction, ...);
                int vips_jpegsave(VipsImage *in, const char *filename, ...);
                const char *vips_error_buffer(void);
                void vips_error_clear(void);
                void g_object_unref(void *object);
                C, 'libvips.so.42');
            self::$ffi->vips_init('velvet');
            self::$ffi->vips_concurrency_set(1);
            self::$ffi->vips_cache_set_max(0);
        }

        return self::$ffi;
    }
}
