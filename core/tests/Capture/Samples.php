<?php

declare(strict_types=1);

namespace Velvet\Core\Tests\Capture;

use Velvet\Core\Bytes\TiffWriter;

/**
 * A sound file of each format, with {@see ExifTool::TAGS} in it: made by other programs where there is one, else built
 * from the format's published or well-known structure.
 */
final class Samples
{
    public const JPEG_IN_CR3 = "\xFF\xD8\xFF\xDB the small one \xFF\xD9";
    public const FULL_IN_CR3 = "\xFF\xD8\xFF\xDB the picture in full \xFF\xD9";

    /** Formats built on TIFF, by how their directories are laid out (well known). */
    public const RAW_LAYOUTS = [
        'sub-directories' => ['dng', 'nef', 'nrw', 'srw', 'erf', 'mef', 'mos', '3fr', 'fff', 'gpr', 'kdc', 'dcr'],
        'preview first' => ['arw', 'sr2', 'srf'],
        'chain' => ['pef'],
    ];
    public const STILLS = [
        'jpg', 'png', 'webp', 'jxl', 'avif', 'tif', 'raf', 'cr3', 'mrw', 'crw', 'x3f', 'cr2', 'orf', 'rw2', 'rwl',
        'iiq',
        ...self::RAW_LAYOUTS['sub-directories'], ...self::RAW_LAYOUTS['preview first'], ...self::RAW_LAYOUTS['chain'],
    ];
    public const COMPANIONS = ['mov', 'avi', 'wav', 'xmp', 'thm'];

    /** @var array<string, string> */
    private static array $made = [];

    /** @return array<string, string> by extension */
    public static function all(): array
    {
        $all = [];
        foreach ([...self::STILLS, ...self::COMPANIONS] as $format) {
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
            'cr3' => self::cr3(),
            'mrw' => self::mrw(),
            'crw' => self::crw(),
            'x3f' => self::x3f(),
            'cr2' => self::cr2(),
            'orf' => self::orf(),
            'rw2', 'rwl' => self::rw2(),
            'iiq' => self::iiq(),
            'mov' => self::mov(),
            'avi' => self::avi(),
            'wav' => self::wav(),
            'xmp' => self::xmp(),
            'thm' => self::of('jpg'),
            'jpg', 'png', 'webp', 'jxl', 'avif' => self::tagged($format, null),
            default => self::raw($format),
        };
    }

    /** A JPEG of 96 by 64 pixels, without any tags. */
    public static function plainJpeg(): string
    {
        return self::$made['plain'] ??= self::tagged('jpg', null, ['-all=']);
    }

    /**
     * A file with tags written by exiftool.
     *
     * @param string|null  $bytes null: a picture made by vips
     * @param list<string> $tags
     */
    public static function tagged(string $format, ?string $bytes, array $tags = ExifTool::TAGS): string
    {
        $path = sys_get_temp_dir().'/velvet-sample-'.bin2hex(random_bytes(6)).'.'.$format;
        if (null === $bytes) {
            Vips::write($path);
        } else {
            file_put_contents($path, $bytes);
        }
        ExifTool::write($path, ['-m', ...$tags]);
        $tagged = (string) file_get_contents($path);
        unlink($path);

        return $tagged;
    }

    /** A small raw file after TIFF/EP (ISO 12234-2): preview in IFD 0, colour filter array in a sub-directory. */
    public static function tiffEp(int $width, int $height, string $preview): string
    {
        $tiff = new TiffWriter();
        $raw = self::cfa($tiff, $width, $height);

        return $tiff->finished($tiff->directory([
            0x00FE => [TiffWriter::LONG, [1]], 0x0100 => [TiffWriter::LONG, [16]], 0x0101 => [TiffWriter::LONG, [12]],
            0x0102 => [TiffWriter::SHORT, [8, 8, 8]],
            0x0103 => [TiffWriter::SHORT, [7]], 0x0106 => [TiffWriter::SHORT, [6]],
            0x0111 => [TiffWriter::LONG, [$tiff->data($preview)]], 0x0115 => [TiffWriter::SHORT, [3]],
            0x0116 => [TiffWriter::LONG, [12]], 0x0117 => [TiffWriter::LONG, [\strlen($preview)]],
            0x014A => [TiffWriter::LONG, [$raw]], 0x9216 => [TiffWriter::BYTE, [1, 0, 0, 0]],
        ]));
    }

    /**
     * The directory of a colour filter array.
     *
     * @param array<int, array{int, list<int>|string}> $more fields
     */
    private static function cfa(TiffWriter $tiff, int $width, int $height, int $next = 0, array $more = []): int
    {
        return $tiff->directory(self::cfaFields($tiff, $width, $height) + $more, $next);
    }

    /** @return array<int, array{int, list<int>|string}> */
    private static function cfaFields(TiffWriter $tiff, int $width, int $height): array
    {
        $samples = '';
        for ($n = 0; $n < $width * $height; ++$n) {
            $samples .= $tiff->number(512 + $n * 7 % 9000, 2);
        }

        return [
            0x00FE => [TiffWriter::LONG, [0]], 0x0100 => [TiffWriter::LONG, [$width]],
            0x0101 => [TiffWriter::LONG, [$height]], 0x0102 => [TiffWriter::SHORT, [16]],
            0x0103 => [TiffWriter::SHORT, [1]], 0x0106 => [TiffWriter::SHORT, [32803]],
            0x0111 => [TiffWriter::LONG, [$tiff->data($samples)]], 0x0115 => [TiffWriter::SHORT, [1]],
            0x0116 => [TiffWriter::LONG, [$height]], 0x0117 => [TiffWriter::LONG, [\strlen($samples)]],
            0x828D => [TiffWriter::SHORT, [2, 2]], 0x828E => [TiffWriter::BYTE, [0, 1, 1, 2]],
        ];
    }

    /**
     * What {@see ExifTool::TAGS} says, as the fields of directory 0 and of the directories it points to.
     *
     * @return array<int, array{int, list<int>|string}>
     */
    private static function tags(TiffWriter $tiff, string $makerNote = ''): array
    {
        return self::firstTags() + [
            0x8769 => [
                TiffWriter::LONG,
                [
                    $tiff->directory(
                        self::exifTags() + ('' === $makerNote ? [] : [0x927C => [TiffWriter::UNDEFINED, $makerNote]]),
                    ),
                ],
            ],
            0x8825 => [TiffWriter::LONG, [$tiff->directory(self::gpsTags())]],
        ];
    }

    /** @return array<int, array{int, list<int>|string}> */
    private static function gpsTags(): array
    {
        return [
            0x0001 => [TiffWriter::ASCII, 'S'], 0x0002 => [TiffWriter::RATIONAL, [54, 1, 30, 1, 0, 1]],
            0x0003 => [TiffWriter::ASCII, 'E'], 0x0004 => [TiffWriter::RATIONAL, [10, 1, 15, 1, 0, 1]],
        ];
    }

    /** @return array<int, array{int, list<int>|string}> */
    private static function firstTags(): array
    {
        return [
            0x010F => [TiffWriter::ASCII, 'Tarn Optical'],
            0x0110 => [TiffWriter::ASCII, 'Heron 5'],
            0x0112 => [TiffWriter::SHORT, [6]],
            0x4746 => [TiffWriter::SHORT, [4]],
            0x013B => [TiffWriter::ASCII, 'Ines Varga-Holt'],
            0x8298 => [TiffWriter::ASCII, '© 2026 Ines Varga-Holt'],
        ];
    }

    /** @return array<int, array{int, list<int>|string}> */
    private static function exifTags(): array
    {
        return [
            0x829A => [TiffWriter::RATIONAL, [1, 250]], 0x829D => [TiffWriter::RATIONAL, [28, 10]],
            0x8827 => [TiffWriter::SHORT, [800]],
            0x9003 => [TiffWriter::ASCII, '2026:05:02 19:31:40'], 0x9011 => [TiffWriter::ASCII, '+02:00'],
            0x920A => [TiffWriter::RATIONAL, [85, 1]],
            0x9291 => [TiffWriter::ASCII, '5'], 0xA431 => [TiffWriter::ASCII, 'TO5-204417'],
            0xA434 => [TiffWriter::ASCII, 'Tarn 24-70mm F2.8'],
            0x9204 => [TiffWriter::SIGNED_RATIONAL, [-5, 3]], 0xA402 => [TiffWriter::SHORT, [2]],
            0x9211 => [TiffWriter::LONG, [417]],
        ];
    }

    /** A raw file of one of the layouts; in big-endian order where the format has it so. */
    private static function raw(string $format): string
    {
        $tiff = new TiffWriter(!\in_array($format, ['nef', 'pef', 'kdc', 'dcr', 'mos'], true));
        $jpeg = self::plainJpeg();
        $linked = static fn (): array => [
            0x0201 => [TiffWriter::LONG, [$tiff->data($jpeg)]],
            0x0202 => [TiffWriter::LONG, [\strlen($jpeg)]],
        ];
        if ('pef' === $format) {
            $preview = $tiff->directory($linked());
            $thumbnail = $tiff->directory($linked(), $preview);

            return $tiff->finished(self::cfa($tiff, 64, 48, $thumbnail, self::tags($tiff)));
        }
        if (\in_array($format, self::RAW_LAYOUTS['preview first'], true)) {
            $raw = self::cfa($tiff, 64, 48);

            return $tiff->finished(
                $tiff->directory(
                    self::tags($tiff) + $linked() + [
                        0x00FE => [TiffWriter::LONG, [1]],
                        0x014A => [TiffWriter::LONG, [$raw]],
                    ],
                    $tiff->directory($linked()),
                ),
            );
        }
        $raw = self::cfa($tiff, 64, 48);
        $preview = $tiff->directory($linked() + [0x00FE => [TiffWriter::LONG, [1]]]);

        $version = \in_array($format, ['dng', 'gpr'], true) ? [0xC612 => [TiffWriter::BYTE, [1, 4, 0, 0]]] : [];

        return $tiff->finished($tiff->directory(
            self::tags($tiff) + $version + self::smallRgb($tiff) + [0x014A => [TiffWriter::LONG, [$preview, $raw]]],
        ));
    }

    /** Full JPEG first, thumbnail, small RGB, and last the samples as a lossless JPEG, which is no picture to show. */
    private static function cr2(): string
    {
        $tiff = new TiffWriter(true, "II\x2A\0\0\0\0\0CR\2\0\0\0\0\0");
        $jpeg = self::plainJpeg();
        $lossless = "\xFF\xD8\xFF\xC4\0\x03\0\xFF\xC3\0\x0B\x0E\0\x30\0\x40\x01\x01\x11\0"
            ."\xFF\xDA\0\x08\x01\x01\0\x01\0\0".str_repeat("\x55", 9000)."\xFF\xD9";
        $raw = $tiff->directory(
            [
                0x0103 => [TiffWriter::SHORT, [6]],
                0x0111 => [TiffWriter::LONG, [$tiff->data($lossless)]],
                0x0117 => [TiffWriter::LONG, [\strlen($lossless)]],
            ],
        );
        $small = $tiff->directory(self::smallRgb($tiff), $raw);
        $thumbnail = $tiff->directory(
            [0x0201 => [TiffWriter::LONG, [$tiff->data("\xFF\xD8\xFF\xD9")]], 0x0202 => [TiffWriter::LONG, [4]]],
            $small,
        );
        $exif = $tiff->directory(
            self::exifTags() + [0xA002 => [TiffWriter::SHORT, [6000]], 0xA003 => [TiffWriter::SHORT, [4000]]],
        );
        $first = $tiff->directory(self::firstTags() + [
            0x0100 => [TiffWriter::SHORT, [96]], 0x0101 => [TiffWriter::SHORT, [64]],
            0x0102 => [TiffWriter::SHORT, [8, 8, 8]], 0x0103 => [TiffWriter::SHORT, [6]],
            0x0111 => [TiffWriter::LONG, [$tiff->data($jpeg)]], 0x0117 => [TiffWriter::LONG, [\strlen($jpeg)]],
            0x8769 => [TiffWriter::LONG, [$exif]],
        ], $thumbnail);

        return substr_replace($tiff->finished($first), pack('V', $raw), 12, 4);
    }

    /** The preview's place stands in a directory of the maker note, counted from the note's own beginning. */
    private static function orf(): string
    {
        // one field, whose value is filled in afterwards: where the directory with the preview lies
        $note = new TiffWriter(true, "OLYMPUS\0II\3\0".pack('vvvVVV', 1, 0x2020, TiffWriter::LONG, 1, 0, 0));
        $jpeg = self::plainJpeg();
        $preview = $note->data($jpeg);
        $settings = $note->directory(
            [
                0x0100 => [TiffWriter::LONG, [1]],
                0x0101 => [TiffWriter::LONG, [$preview]],
                0x0102 => [TiffWriter::LONG, [\strlen($jpeg)]],
            ],
        );
        $tiff = new TiffWriter(true, "IIRO\0\0\0\0");

        return $tiff->finished(
            self::cfa(
                $tiff,
                64,
                48,
                0,
                self::tags($tiff, substr_replace($note->unfinished(), pack('V', $settings), 22, 4)),
            ),
        );
    }

    private static function rw2(): string
    {
        $tiff = new TiffWriter(true, "IIU\0\0\0\0\0");
        $jpeg = self::of('jpg');

        // the sensor's size, and of the picture on it the first row and column and those behind the last ones
        return $tiff->finished($tiff->directory(self::firstTags() + [
            0x0001 => [TiffWriter::UNDEFINED, '0310'], 0x0002 => [TiffWriter::SHORT, [72]],
            0x0003 => [TiffWriter::SHORT, [50]], 0x0004 => [TiffWriter::SHORT, [2]],
            0x0005 => [TiffWriter::SHORT, [4]], 0x0006 => [TiffWriter::SHORT, [50]],
            0x0007 => [TiffWriter::SHORT, [68]], 0x0017 => [TiffWriter::SHORT, [800]],
            0x002E => [TiffWriter::UNDEFINED, $jpeg],
            0x0111 => [TiffWriter::LONG, [$tiff->data(str_repeat("\x12\x34", 64 * 48))]],
            0x0117 => [TiffWriter::LONG, [2 * 64 * 48]],
        ]));
    }

    /** Directory 0 describes a thumbnail; the picture's size stands in a block of the maker's behind the header. */
    private static function iiq(): string
    {
        $records = [[0x0102, 1, 11, 0], [0x010C, 4, 4, 6000], [0x010D, 4, 4, 4000]];
        $serial = "TO5-204417\0\0";
        $block = 'IIII'."\0waR".pack('V', 12 + \strlen($serial)).$serial.pack('VV', \count($records), 0);
        foreach ($records as [$tag, $type, $size, $value]) {
            $block .= pack('VVVV', $tag, $type, $size, 0x0102 === $tag ? 12 : $value);
        }
        $tiff = new TiffWriter(true, "II\x2A\0\0\0\0\0".$block);

        return $tiff->finished($tiff->directory(self::tags($tiff, $block) + self::smallRgb($tiff)));
    }

    /** @return array<int, array{int, list<int>|string}> a thumbnail of 16 by 12 pixels */
    private static function smallRgb(TiffWriter $tiff): array
    {
        $rgb = str_repeat("\x40\x50\x60", 16 * 12);

        return [
            0x00FE => [TiffWriter::LONG, [1]], 0x0100 => [TiffWriter::LONG, [16]], 0x0101 => [TiffWriter::LONG, [12]],
            0x0102 => [TiffWriter::SHORT, [8, 8, 8]],
            0x0103 => [TiffWriter::SHORT, [1]], 0x0106 => [TiffWriter::SHORT, [2]],
            0x0111 => [TiffWriter::LONG, [$tiff->data($rgb)]], 0x0115 => [TiffWriter::SHORT, [3]],
            0x0116 => [TiffWriter::LONG, [12]], 0x0117 => [TiffWriter::LONG, [\strlen($rgb)]],
        ];
    }

    private static function raf(string $jpeg): string
    {
        $table = pack('N', 2).pack('nnnn', 0x0100, 4, 4032, 6032).pack('nnnn', 0x0111, 4, 4000, 6000);
        $raw = str_repeat("\x12\x34", 400);
        $at = 160;
        $header = str_pad(
            'FUJIFILMCCD-RAW 0201FF389501',
            28,
            "\0",
        ).str_pad('Heron 5', 32, "\0").'0100'.str_repeat("\0", 20)
            .pack(
                'NNNNNN',
                $at,
                \strlen($jpeg),
                $at + \strlen($jpeg),
                \strlen($table),
                $at + \strlen($jpeg.$table),
                \strlen($raw),
            );

        return str_pad($header, $at, "\0").$jpeg.$table.$raw;
    }

    private static function mrw(): string
    {
        $jpeg = self::tagged('jpg', null, ['-ExifByteOrder=MM', ...ExifTool::TAGS]);
        $at = (int) strpos($jpeg, "Exif\0\0");
        $length = unpack('n', $jpeg, $at - 2);
        \assert(\is_array($length) && \is_int($length[1]));
        $tiff = substr($jpeg, $at + 6, $length[1] - 8);
        $size = '27730001'.pack('nn', 20, 30).pack('nn', 16, 24)."\x0C\x0C\x59\0\0\0\0\1";
        $blocks = "\0PRD".pack('N', \strlen($size)).$size."\0TTW".pack('N', \strlen($tiff)).$tiff;

        return "\0MRM".pack('N', \strlen($blocks)).$blocks.str_repeat("\x21\x43", 900);
    }

    /**
     * CIFF: every heap's directory at its end. exiftool takes the first five letters for the make, so that it has five
     * here.
     */
    private static function crw(): string
    {
        return self::crwOf('Heron 5', [
            [0x1029, pack('v4', 0, 85, 0, 0)],
            [0x501C, pack('v', 800)],
            [0x1818, pack('g3', 0.0, log(250, 2), 2 * log(2.8, 2))],
        ]);
    }

    /** @param list<array{int, string}> $measured tag and value of what the camera measured */
    public static function crwOf(string $model, array $measured): string
    {
        $jpeg = self::plainJpeg();
        $image = pack('VVgVVVV', 6000, 4000, 1.0, 90, 12, 24, 1);
        $camera = self::heap([[0x080A, "Tarns\0$model\0"], [0x580B, pack('V', 204_417)]]);
        $measured = self::heap($measured);
        $properties = self::heap(
            [
                [0x2807, $camera],
                [0x3002, $measured],
                [0x180E, pack('VVV', 1_777_750_300, 0, 0)],
                [0x1810, $image],
                [0x5817, pack('V', 1_000_417)],
            ],
        );

        return 'II'.pack('V', 26).'HEAPCCDR'.pack('VVV', 0x00010002, 0, 0).self::heap(
            [[0x2005, str_repeat("\x33", 4000)], [0x2008, "\xFF\xD8\xFF\xD9"], [0x2007, $jpeg], [0x300A, $properties]],
        );
    }

    /** @param list<array{int, string}> $records tag and value */
    private static function heap(array $records): string
    {
        $data = $table = '';
        foreach ($records as [$tag, $value]) {
            if (0x4000 === ($tag & 0xC000)) { // the value stands in the directory
                $table .= pack('v', $tag).str_pad($value, 8, "\0");
            } else {
                $table .= pack('vVV', $tag, \strlen($value), \strlen($data));
                $data .= $value.str_repeat("\0", \strlen($value) % 2);
            }
        }

        return $data.pack('v', \count($records)).$table.pack('V', \strlen($data));
    }

    private static function x3f(): string
    {
        $texts = [
            'CAMMANUF' => 'Tarn Optical',
            'CAMMODEL' => 'Heron 5',
            'CAMSERIAL' => 'TO5-204417',
            'TIME' => '1777750300',
            'EXPTIME' => '4100', // the sensor gathers light a little longer than the shutter is open
            'SHUTTER' => '0.004',
            'APERTURE' => '2.8',
            'ISO' => '800',
            'FLENGTH' => '85',
        ];
        $table = $text = '';
        foreach ($texts as $name => $value) {
            foreach ([$name, $value] as $word) {
                $table .= pack('V', intdiv(\strlen($text), 2));
                $text .= mb_convert_encoding($word."\0", 'UTF-16LE', 'UTF-8');
            }
        }
        $properties = 'SECp'.pack('VVVVV', 0x00020000, \count($texts), 0, 0, intdiv(\strlen($text), 2)).$table.$text;
        $jpeg = self::plainJpeg();
        $picture = 'SECi'.pack('VVVVVV', 0x00020000, 2, 18, 96, 64, 0).$jpeg;
        $head = 'FOVb'.pack('V', 0x00020002).str_repeat("\x11", 16).pack('VVVV', 0, 6000, 4000, 90)
            .str_repeat("\0", 32 + 32 + 128);
        $at = [\strlen($head), \strlen($head.$picture)];

        return $head.$picture.$properties.'SECd'.pack('VV', 0x00020000, 2)
            .pack('VV', $at[0], \strlen($picture)).'IMA2'
            .pack('VV', $at[1], \strlen($properties)).'PROP'
            .pack('V', \strlen($head.$picture.$properties));
    }

    private static function cr3(): string
    {
        $first = new TiffWriter();
        $first = $first->finished(
            $first->directory(
                self::firstTags() + [0x0100 => [TiffWriter::LONG, [6000]], 0x0101 => [TiffWriter::LONG, [4000]]],
            ),
        );
        $exif = new TiffWriter();
        $exif = $exif->finished($exif->directory(self::exifTags()));
        $gps = new TiffWriter();
        $gps = $gps->finished($gps->directory(self::gpsTags()));
        $ftyp = self::box('ftyp', 'crx '.pack('N', 1).'crx isom');
        $small = pack('Nnn', 0, 160, 120).pack('Nnn', \strlen(self::JPEG_IN_CR3), 1, 0).self::JPEG_IN_CR3;
        $facts = self::box(
            'uuid',
            hex2bin('85c0b687820f11e08111f4ce462b6a48').self::box('CMT1', $first).self::box('CMT2', $exif)
                .self::box('CMT4', $gps).self::box('THMB', $small),
        );
        $sizes = self::box('stsz', pack('NNN', 0, \strlen(self::FULL_IN_CR3), 1));
        $moov = static function (int $offset) use ($facts, $sizes): string {
            $table = self::box('stbl', $sizes.self::box('co64', pack('NNNN', 0, 1, 0, $offset)));

            return self::box('moov', $facts.self::box('trak', self::box('mdia', self::box('minf', $table))));
        };

        return $ftyp.$moov(\strlen($ftyp.$moov(0)) + 8).self::box('mdat', self::FULL_IN_CR3.str_repeat("\x55", 900));
    }

    /** @param int $since1904 seconds in UTC */
    public static function mov(int $since1904 = 3_860_595_100, string $userData = ''): string
    {
        $header = self::box(
            'mvhd',
            pack('NNNNN', 0, $since1904, $since1904, 1000, 4000).pack('Nn', 0x00010000, 0x0100).str_repeat("\0", 10)
            .pack(
                'N9',
                0x10000,
                0,
                0,
                0,
                0x10000,
                0,
                0,
                0,
                0x40000000,
            ).str_repeat("\0", 24).pack('N', 2),
        );

        return self::box('ftyp', 'qt  '.pack('N', 0).'qt  ').self::box('mdat', str_repeat("\x55", 900)).self::box(
            'moov',
            $header.('' === $userData ? '' : self::box('udta', $userData)),
        );
    }

    private static function avi(): string
    {
        return self::riff(
            'AVI ',
            self::chunk(
                'LIST',
                'hdrl'.self::chunk('avih', str_repeat("\0", 56)).self::chunk('IDIT', "Sat May  2 19:31:40 2026\n\0"),
            ).self::chunk('LIST', 'movi'.self::chunk('00dc', str_repeat("\x55", 600))),
        );
    }

    private static function wav(): string
    {
        $bext = str_repeat("\0", 256).str_pad('Heron 5', 32, "\0").str_repeat("\0", 32).'2026-05-0219:31:40'
            .str_repeat("\0", 264);

        return self::riff(
            'WAVE',
            self::chunk('bext', $bext).self::chunk(
                'fmt ',
                pack('vvVVvv', 1, 1, 8000, 8000, 1, 8),
            ).self::chunk('data', str_repeat("\x80", 600)),
        );
    }

    private static function xmp(): string
    {
        return "<?xpacket begin='\u{FEFF}' id='W5M0MpCehiHzreSzNTczkc9d'?>\n<x:xmpmeta xmlns:x='adobe:ns:meta/'>"
            ."<rdf:RDF xmlns:rdf='http://www.w3.org/1999/02/22-rdf-syntax-ns#'>"
            ."<rdf:Description rdf:about='' xmlns:xmp='http://ns.adobe.com/xap/1.0/'"
            ." xmlns:exif='http://ns.adobe.com/exif/1.0/' xmp:Rating='4'"
            ." exif:DateTimeOriginal='2026-05-02T19:31:40.5+02:00'/>"
            ."</rdf:RDF></x:xmpmeta>\n<?xpacket end='w'?>";
    }

    private static function riff(string $form, string $chunks): string
    {
        return self::chunk('RIFF', $form.$chunks);
    }

    private static function chunk(string $name, string $data): string
    {
        return $name.pack('V', \strlen($data)).$data.str_repeat("\0", \strlen($data) % 2);
    }

    private static function box(string $type, string $payload): string
    {
        return pack('N', 8 + \strlen($payload)).$type.$payload;
    }
}
