<?php

declare(strict_types=1);

namespace Velvet\Demo;

/**
 * Ines Varga-Holt photographs the harbour town of Tarn Hollow: three cards, and the second slot of one of them.
 * Everything here is invented.
 */
final class Scenario
{
    public const REGATTA = 'LANTERN';
    public const REGATTA_SECOND_SLOT = 'LANTERN_2';
    public const KILN = 'KILN';
    public const TIDE = 'TIDE';

    /** Camera B's clock is so many seconds slow. */
    public const SLOW = 58 * 60;

    private const FIRST_NUMBER = 9962; // the counter rolls over in the evening

    private readonly Camera $a;
    private readonly Camera $b;
    private readonly Chance $chance;

    /** @var list<\DateTimeImmutable> when something happened on the water: both cameras were up then */
    private array $moments = [];

    private function __construct()
    {
        $this->a = new Camera('Heron 5', 'TO5-204417', 'Tarn 24-70mm F2.8', 'TARA');
        $this->b = new Camera('Heron 3', 'TO3-118802', 'Tarn 85mm F1.8', 'TARB');
        $this->chance = new Chance('Tarn Hollow');
    }

    /** @return list<Shot> */
    public static function shots(): array
    {
        $scenario = new self();

        return [...$scenario->regattaA(), ...$scenario->regattaB(), ...$scenario->kiln(), ...$scenario->tide()];
    }

    /** @return list<Shot> */
    private function regattaA(): array
    {
        $shots = [];
        $time = new \DateTimeImmutable('2026-05-02 19:31:12 UTC');
        $number = self::FIRST_NUMBER;
        $subjects = [
            'wide', 'boat', 'wide', 'crowd', 'boat', 'lantern', 'wide', 'lantern', 'boat', 'crowd', 'lantern', 'boat',
            'wide',
        ];
        for ($scene = 0; \count($shots) < 80; ++$scene) {
            $subject = $subjects[$scene % \count($subjects)];
            $burst = 7 === $scene;
            $bracket = 4 === $scene;
            $frames = $burst ? 8 : ($bracket ? 5 : $this->chance->whole(3, 7));
            $time = $time->modify('+'.$this->chance->whole(14, 29).' minutes');
            $this->moments[] = $time;
            $portrait = 'lantern' === $subject && !$burst && 0 === $scene % 2;
            for ($n = 0; $n < $frames && \count($shots) < 80; ++$n) {
                $night = $this->night($time);
                $bias = $bracket ? [0, -6, -3, 3, 6][$n] : 0;
                $shutter = [[1, 60], [1, 125], [1, 80], [1, 250]][$this->chance->whole(0, 3)];
                $shots[] = $this->shot(
                    self::REGATTA, $this->a, $number, true, $time,
                    $burst ? $n * 118 % 1000 : $this->chance->whole(0, 99) * 10,
                    $bracket ? [[1, 60], [1, 240], [1, 120], [1, 30], [1, 15]][$n] : $shutter,
                    [28, 10], (int) (800 * 2 ** round($night * 3)),
                    'lantern' === $subject ? 70 : $this->chance->one([24, 28, 35, 50]), 'harbour',
                    new Drawing(
                        $subject, "A$scene", $night, $scene, $scene > 13, $this->chance->happens(0.05) ? 5.0 : 0.0,
                        $bias / 3,
                    ), $portrait, $bias,
                );
                $number = 9999 === $number ? 1 : $number + 1;
                $time = $burst
                    ? (7 === $n % 8 ? $time->modify('+1 second') : $time)
                    : $time->modify('+'.($bracket ? 1 : $this->chance->whole(3, 50)).' seconds');
            }
        }

        return $shots;
    }

    /** @return list<Shot> */
    private function regattaB(): array
    {
        $shots = [];
        $number = 412;
        foreach ([
            'lantern',
            'crowd',
            'boat',
            'lantern',
            'wide',
            'lantern',
            'boat',
            'crowd',
            'lantern',
        ] as $scene => $subject) {
            $time = $this->moments[$scene + 1 + intdiv($scene, 3)]->modify('+'.$this->chance->whole(4, 25).' seconds');
            for ($n = $this->chance->whole(3, 5); $n > 0; --$n) {
                $night = $this->night($time);
                $shots[] = $this->shot(
                    self::REGATTA,
                    $this->b,
                    $number++,
                    false,
                    $time->modify(\sprintf('-%d seconds', self::SLOW)),
                    $this->chance->whole(0, 99) * 10,
                    [1, 125],
                    [18, 10],
                    (int) (640 * 2 ** round($night * 3)),
                    85,
                    'harbour',
                    new Drawing($subject, "B$scene", $night, $scene + 2, $scene > 7),
                    'lantern' === $subject && 1 === $scene % 2,
                );
                $time = $time->modify('+'.$this->chance->whole(4, 40).' seconds');
            }
        }

        return $shots;
    }

    /** @return list<Shot> */
    private function kiln(): array
    {
        $shots = [];
        $number = 301;
        $days = [
            ['2026-04-30 10:02:30', [['kiln', 7], ['kiln', 5], ['one', 6], ['three', 5]], true],
            ['2026-05-01 09:40:05', [['one', 6], ['row', 5], ['detail', 5], ['three', 6], ['one', 5]], true],
            [
                '2026-05-02 11:15:44',
                [['row', 6], ['detail', 6], ['black', 2], ['three', 6], ['shoes', 2], ['one', 7]],
                false,
            ],
        ];
        foreach ($days as $day => [$start, $sets, $raw]) {
            $time = new \DateTimeImmutable($start.' UTC');
            foreach ($sets as $set => [$subject, $frames]) {
                for ($n = 0; $n < $frames; ++$n) {
                    $shots[] = $this->shot(
                        self::KILN, $this->a, $number++, $raw && 'black' !== $subject, $time,
                        $this->chance->whole(0, 99) * 10,
                        'kiln' === $subject ? [1, 200] : ('black' === $subject ? [1, 4000] : [1, 60]), [56, 10],
                        'kiln' === $subject ? 1600 : 200, 'detail' === $subject ? 70 : 50, 'pottery',
                        new Drawing(
                            $subject, "$day $set", stops: $this->chance->between(-0.2, 0.2),
                            blur: 'shoes' === $subject ? 3.5 : 0.0,
                        ),
                        'one' === $subject && 1 === $set % 2,
                        large: 2 === $day && 'detail' === $subject && $n < 3,
                    );
                    $time = $time->modify('+'.$this->chance->whole(8, 95).' seconds');
                }
                $time = $time->modify('+'.$this->chance->whole(9, 38).' minutes');
            }
        }

        return $shots;
    }

    /** @return list<Shot> */
    private function tide(): array
    {
        $shots = [];
        $time = new \DateTimeImmutable('2026-05-04 05:10:00 UTC');
        $number = 701;
        for ($n = 0; $n < 72; ++$n) {
            if (41 === $n) { // the missed frame: the camera counted on, and nothing was written
                $time = $time->modify('+20 seconds');
            }
            $shots[] = $this->shot(
                self::TIDE,
                $this->a,
                $number++,
                false,
                $time,
                120 + $n % 3,
                [1, 30 + 4 * $n],
                [80, 10],
                100,
                35,
                'tide',
                new Drawing('tide', 'T'.intdiv($n, 6), t: $n / 71),
                false,
            );
            $time = $time->modify($n < 52 ? '+20 seconds' : '+10 seconds');
        }

        return $shots;
    }

    /**
     * @param array{int, int}      $shutter
     * @param array{int, int}      $aperture
     */
    private function shot(
        string $card,
        Camera $camera,
        int $number,
        bool $raw,
        \DateTimeImmutable $time,
        int $milliseconds,
        array $shutter,
        array $aperture,
        int $iso,
        int $focal,
        string $scene,
        Drawing $draw,
        bool $portrait,
        int $bias = 0,
        bool $large = false,
    ): Shot {
        $folder = $camera === $this->b
            ? '102TARNB'
            : ($number >= self::FIRST_NUMBER || self::REGATTA !== $card ? '100TARNA' : '101TARNA');

        return new Shot(
            $card,
            \sprintf('DCIM/%s/%s%04d', $folder, $camera->prefix, $number),
            $raw,
            new Exposure(
                $camera,
                $time->format('Y:m:d H:i:s'),
                $milliseconds,
                $shutter,
                $aperture,
                $iso,
                $focal,
                $portrait ? 8 : 1,
                $bias,
            ),
            $scene,
            $draw,
            $portrait,
            $large,
        );
    }

    /** 0 at sunset, half past eight; 1 an hour and a half later. */
    private function night(\DateTimeImmutable $time): float
    {
        $minutes = ($time->getTimestamp() - (new \DateTimeImmutable('2026-05-02 20:05:00 UTC'))->getTimestamp()) / 60;

        return max(0.0, min(1.0, $minutes / 110));
    }
}
