<?php

declare(strict_types=1);

namespace Velvet\Core\Tests\Capture;

/**
 * A sound file of each format, with {@see ExifTool::TAGS} in it: made by other programs where there is one, else built from
 * the format's well-known structure.
 */
final class Samples
{
    public const JPEG_IN_CR3 = "\xFF\xD8\xFF\xDB the small one \xFF\xD9";
    public const FULL_IN_CR3 = "\xFF\xD8\xFF\xDB the picture in full \xFF\xD9";

    /** @var array<string, string> */
    private static array $made = [];

    /** @return array<string, string> by name of the format */
    public static function all(): array
    {
        $all = [];
        foreach (['jpg', 'png', 'webp', 'jxl', 'avif', 'tif', 'raf', 'cr3', 'mrw'] as $format) {
            $all[$format] = self::of($format);
        }

        return $all;
    }

    /** A raw file that LibRaw can decode and that has no JPEG inside. */
    public static function rawWithoutPreview(): string
    {
        return self::tagged('tif', self::tiffEp(96, 64, 'no JPEG'));
    }

    public static function of(string $format): string
    {
        return self::$made[$format] ??= match ($format) {
            'tif' => self::tagged('tif', self::tiffEp(64, 48, "\xFF\xD8\xFF\xD9")),
            'raf' => self::raf(self::of('jpg')),
            'cr3' => self::cr3Sample(),
            'mrw' => self::mrw(),
            default => self::tagged($format, null),
        };
    }

    /**
     * A file with tags written by exiftool.
     *
     * @param string|null  $bytes null: a picture made by vips
     * @param list<string> $more  options for exiftool
     */
    private static function tagged(string $format, ?string $bytes, array $more = []): string
    {
        $path = sys_get_temp_dir().'/velvet-sample-'.bin2hex(random_bytes(6)).'.'.$format;
        if (null === $bytes) {
            Vips::write($path);
        } else {
            file_put_contents($path, $bytes);
        }
        ExifTool::write($path, ['-m', ...$more, ...ExifTool::TAGS]);
        $tagged = (string) file_get_contents($path);
        unlink($path);

        return $tagged;
    }

    private static function raf(string $jpeg): string
    {
        $table = pack('N', 2).pack('nnnn', 0x0100, 4, 4032, 6032).pack('nnnn', 0x0111, 4, 4000, 6000);
        $raw = str_repeat("\x12\x34", 400);
        $at = 160;
        $header = str_pad('FUJIFILMCCD-RAW 0201FF389501', 28, "\0").str_pad('Heron 5', 32, "\0").'0100'.str_repeat("\0", 20)
            .pack('NNNNNN', $at, \strlen($jpeg), $at + \strlen($jpeg), \strlen($table), $at + \strlen($jpeg.$table), \strlen($raw));

        return str_pad($header, $at, "\0").$jpeg.$table.$raw;
    }

    private static function mrw(): string
    {
        $jpeg = self::tagged('jpg', null, ['-ExifByteOrder=MM']);
        $at = (int) strpos($jpeg, "Exif\0\0");
        $length = unpack('n', $jpeg, $at - 2);
        \assert(\is_array($length) && \is_int($length[1]));
        $tiff = substr($jpeg, $at + 6, $length[1] - 8);
        $size = '27730001'.pack('nn', 20, 30).pack('nn', 16, 24)."\x0C\x0C\x59\0\0\0\0\1";
        $blocks = "\0PRD".pack('N', \strlen($size)).$size."\0TTW".pack('N', \strlen($tiff)).$tiff;

        return "\0MRM".pack('N', \strlen($blocks)).$blocks.str_repeat("\x21\x43", 900);
    }

    private static function cr3Sample(): string
    {
        return self::cr3(self::cr3Directory([0x0100 => [4, 6000], 0x0101 => [4, 4000], 0x010F => [2, 'Tarn Optical'], 0x0110 => [2, 'Heron 5'], 0x0112 => [3, 6], 0x4746 => [3, 4]]), self::cr3Directory([
            0x829A => [5, [1, 250]], 0x829D => [5, [28, 10]], 0x8827 => [3, 800], 0x9003 => [2, '2026:05:02 19:31:40'], 0x9011 => [2, '+02:00'], 0x920A => [5, [85, 1]],
            0x9291 => [2, '5'], 0xA431 => [2, 'TO5-204417'], 0xA434 => [2, 'Tarn 24-70mm F2.8'],
        ]));
    }

    private static function cr3(string $first, string $exif): string
    {
        $ftyp = self::box('ftyp', 'crx '.pack('N', 1).'crx isom');
        $facts = self::box('uuid', hex2bin('85c0b687820f11e08111f4ce462b6a48').self::box('CMT1', $first).self::box('CMT2', $exif)
            .self::box('THMB', pack('Nnn', 0, 160, 120).pack('Nnn', \strlen(self::JPEG_IN_CR3), 1, 0).self::JPEG_IN_CR3));
        $moov = static fn (int $offset): string => self::box('moov', $facts.self::box('trak', self::box('mdia', self::box('minf', self::box('stbl',
            self::box('stsz', pack('NNN', 0, \strlen(self::FULL_IN_CR3), 1)).self::box('co64', pack('NNNN', 0, 1, 0, $offset)))))));

        return $ftyp.$moov(\strlen($ftyp.$moov(0)) + 8).self::box('mdat', self::FULL_IN_CR3.str_repeat("\x55", 900));
    }

    private static function box(string $type, string $payload): string
    {
        return pack('N', 8 + \strlen($payload)).$type.$payload;
    }

    /** @param array<int, array{int, int|string|array{int, int}}> $fields type and value by tag */
    private static function cr3Directory(array $fields): string
    {
        $table = '';
        $more = '';
        $end = 8 + 2 + 12 * \count($fields) + 4;
        foreach ($fields as $tag => [$type, $value]) {
            $data = match (true) {
                \is_string($value) => $value."\0",
                \is_array($value) => pack('VV', ...$value),
                default => pack(3 === $type ? 'v' : 'V', $value),
            };
            $count = \is_string($value) ? \strlen($data) : 1;
            $table .= pack('vvV', $tag, $type, $count);
            if (\strlen($data) <= 4) {
                $table .= str_pad($data, 4, "\0");
            } else {
                $table .= pack('V', $end + \strlen($more));
                $more .= $data.str_repeat("\0", \strlen($data) % 2);
            }
        }

        return "II\x2A\0\x08\0\0\0".pack('v', \count($fields)).$table.pack('V', 0).$more;
    }

    /** A small raw file after TIFF/EP (ISO 12234-2): preview in IFD 0, colour filter array in a sub-directory. */
    public static function tiffEp(int $width, int $height, string $preview): string
    {
        $samples = '';
        for ($n = 0; $n < $width * $height; ++$n) {
            $samples .= pack('v', 512 + $n * 7 % 9000);
        }
        $first = static fn (int $sub, int $data): string => self::directory(8, [
            0x00FE => [4, [1]], 0x0100 => [4, [16]], 0x0101 => [4, [12]], 0x0102 => [3, [8, 8, 8]], 0x0103 => [3, [7]], 0x0106 => [3, [6]],
            0x0111 => [4, [$data]], 0x0115 => [3, [3]], 0x0116 => [4, [12]], 0x0117 => [4, [\strlen($preview)]], 0x014A => [4, [$sub]], 0x9216 => [1, [1, 0, 0, 0]],
        ]);
        $raw = static fn (int $at, int $data): string => self::directory($at, [
            0x00FE => [4, [0]], 0x0100 => [4, [$width]], 0x0101 => [4, [$height]], 0x0102 => [3, [16]], 0x0103 => [3, [1]], 0x0106 => [3, [32803]],
            0x0111 => [4, [$data]], 0x0115 => [3, [1]], 0x0116 => [4, [$height]], 0x0117 => [4, [\strlen($samples)]], 0x828D => [3, [2, 2]], 0x828E => [1, [0, 1, 1, 2]],
        ]);
        $sub = 8 + \strlen($first(0, 0));
        $data = $sub + \strlen($raw(0, 0));
        $padding = str_repeat("\0", \strlen($preview) % 2);

        return "II\x2A\0\x08\0\0\0".$first($sub, $data).$raw($sub, $data + \strlen($preview.$padding)).$preview.$padding.$samples;
    }

    /**
     * @param int                               $at     where the directory will stand
     * @param array<int, array{int, list<int>}> $fields type and values by tag
     */
    private static function directory(int $at, array $fields): string
    {
        $table = pack('v', \count($fields));
        $more = '';
        $end = $at + 2 + 12 * \count($fields) + 4;
        foreach ($fields as $tag => [$type, $values]) {
            $data = pack(3 === $type ? 'v*' : (4 === $type ? 'V*' : 'C*'), ...$values);
            $table .= pack('vvV', $tag, $type, \count($values));
            if (\strlen($data) <= 4) {
                $table .= str_pad($data, 4, "\0");
            } else {
                $table .= pack('V', $end + \strlen($more));
                $more .= $data.str_repeat("\0", \strlen($data) % 2);
            }
        }

        return $table.pack('V', 0).$more;
    }
}
