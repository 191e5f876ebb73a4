<?php

declare(strict_types=1);

namespace Velvet\Demo;

/** The other things on a card: a short movie and a spoken note. */
final class MovieAndNote
{
    /** Seconds between 1904-01-01 and 1970-01-01 (ISO 14496-12, 8.2.2). */
    private const EPOCH = 2_082_844_800;

    /**
     * A QuickTime movie of JPEG pictures, one after another.
     *
     * @param non-empty-list<string> $jpegs
     */
    public static function movie(array $jpegs, int $width, int $height, int $perSecond, int $createdAt): string
    {
        $made = pack('NN', $createdAt + self::EPOCH, $createdAt + self::EPOCH);
        $frames = \count($jpegs);
        $duration = intdiv($frames * 600, $perSecond);
        $matrix = pack('N9', 0x10000, 0, 0, 0, 0x10000, 0, 0, 0, 0x40000000);
        $start = self::atom('ftyp', 'qt  '.pack('N', 0x200).'qt  ');
        $media = self::atom('mdat', implode('', $jpegs));
        $entry = self::atom(
            'jpeg',
            str_repeat("\0", 6).pack('n', 1).str_repeat("\0", 16).pack(
                'nnNNNn',
                $width,
                $height,
                0x480000,
                0x480000,
                0,
                1,
            ).str_repeat("\0", 32).pack('nn', 24, 0xFFFF),
        );
        $offsets = [];
        $at = \strlen($start) + 8;
        foreach ($jpegs as $jpeg) {
            $offsets[] = $at;
            $at += \strlen($jpeg);
        }
        $table = self::atom('stbl', self::atom('stsd', pack('NN', 0, 1).$entry)
            .self::atom('stts', pack('NNNN', 0, 1, $frames, intdiv(600, $perSecond)))
            .self::atom('stsc', pack('NNNNN', 0, 1, 1, 1, 1))
            .self::atom('stsz', pack('NNN', 0, 0, $frames).pack('N*', ...array_map(strlen(...), $jpegs)))
            .self::atom('stco', pack('NN', 0, $frames).pack('N*', ...$offsets)));
        $header = pack('N', 7).$made.pack('NNN', 1, 0, $duration).str_repeat("\0", 8).pack('nnnn', 0, 0, 0, 0)
            .$matrix.pack('NN', $width << 16, $height << 16);
        $track = self::atom('trak', self::atom('tkhd', $header)
            .self::atom('mdia', self::atom('mdhd', pack('N', 0).$made.pack('NNnn', 600, $duration, 0, 0))
                .self::atom('hdlr', pack('N', 0).'mhlrvide'.str_repeat("\0", 12)."\0")
                .self::atom(
                    'minf',
                    self::atom('vmhd', pack('NNN', 1, 0, 0)).self::atom(
                        'dinf',
                        self::atom('dref', pack('NN', 0, 1).self::atom('url ', pack('N', 1))),
                    ).$table,
                )));

        return $start.$media.self::atom(
            'moov',
            self::atom(
                'mvhd',
                pack('N', 0).$made.pack(
                    'NNNn',
                    600,
                    $duration,
                    0x10000,
                    0x100,
                ).str_repeat("\0", 10).$matrix.str_repeat("\0", 24).pack('N', 2),
            ).$track,
        );
    }

    /** A murmur: 16-bit PCM, 11 025 samples a second (RIFF WAVE). */
    public static function note(float $seconds): string
    {
        $samples = '';
        for ($n = 0; $n < $seconds * 11_025; ++$n) {
            $t = $n / 11_025;
            $voice = sin(2 * \M_PI * 142 * $t + 3 * sin($t * 9)) * 0.5 + sin(2 * \M_PI * 427 * $t) * 0.2;
            $samples .= pack('v', ((int) (9000 * $voice * max(0, sin($t * 7)) * abs(sin($t * 2.3)))) & 0xFFFF);
        }

        return 'RIFF'.pack('V', 36 + \strlen($samples)).'WAVEfmt '.pack(
            'VvvVVvv',
            16,
            1,
            1,
            11_025,
            22_050,
            2,
            16,
        ).'data'.pack('V', \strlen($samples)).$samples;
    }

    private static function atom(string $kind, string $body): string
    {
        return pack('N', 8 + \strlen($body)).$kind.$body;
    }
}
