<?php

declare(strict_types=1);

namespace Velvet\Bench;

use Velvet\Core\Capture\Exposed;
use Velvet\Core\Capture\ShotTime;
use Velvet\Core\Card\CardFile;
use Velvet\Core\Card\FileKind;
use Velvet\Core\Naming\FrameNaming;
use Velvet\Core\Naming\PortableName;
use Velvet\Core\Plan\EntryToFile;
use Velvet\Core\Plan\FoldersOnDisk;
use Velvet\Core\Plan\FrameToFile;
use Velvet\Core\Plan\IntakePlan;
use Velvet\Core\Shoot\DayBoundary;
use Velvet\Core\Shoot\Division;
use Velvet\Core\Shoot\Sequences;
use Velvet\Core\Shoot\TimedFrame;
use Velvet\Core\Style\HouseStyle;

/**
 * A whole plan: order, division, runs, every name. There is no other program to compare with; its growth is printed
 * instead.
 */
final class SheetBench implements Bench
{
    private const SIZES = [1_000, 5_000, 20_000, 50_000];

    public function run(string $folder): iterable
    {
        foreach ([
            'standard' => HouseStyle::standard(),
            'by original name and time' => self::byName(),
        ] as $called => $style) {
            $per = [];
            foreach (self::SIZES as $size) {
                [$timed, $files] = self::card($size);
                memory_reset_peak_usage();
                $before = memory_get_usage();
                $names = 0;
                $seconds = Timed::seconds(static function () use ($timed, $files, $style, &$names): void {
                    $names = self::plan($timed, $files, $style);
                });
                if ($names !== 2 * $size) {
                    throw new \RuntimeException('Two frames have one name.');
                }
                $per[$size] = $seconds / $size;
                yield \sprintf(
                    '%s style, %d frames of raw and JPEG: %.3f s, %.0f MB on top of the card itself (nothing to '
                        .'compare with)',
                    $called,
                    $size,
                    $seconds,
                    (memory_get_peak_usage() - $before) / 1e6,
                );
            }
            yield \sprintf(
                '%s style, a frame of 50,000 takes %.2f times as long as one of 1,000',
                $called,
                $per[50_000] / $per[1_000],
            );
        }
    }

    /**
     * @param list<TimedFrame> $timed
     * @param list<FrameToFile> $files
     *
     * @return int how many different names there are
     */
    private static function plan(array $timed, array $files, HouseStyle $style): int
    {
        $entries = [];
        foreach ((new Division(DayBoundary::at('04:00'), 240))->divide($timed) as $i => $group) {
            Sequences::in(
                array_map(
                    static fn (TimedFrame $frame): Exposed => new Exposed(
                        $frame->capturedAt?->ticks(),
                        $frame->camera,
                        9.0,
                        0.0,
                    ),
                    $group->frames,
                ),
            );
            $entries[] = new EntryToFile(
                $i + 1,
                $group->day,
                'Lantern Regatta',
                array_map(static fn (TimedFrame $frame): FrameToFile => $files[$frame->id], $group->frames),
            );
        }
        $names = [];
        foreach (IntakePlan::of($entries, new FoldersOnDisk([]), $style)->entries as $entry) {
            foreach ($entry->frames as $frame) {
                foreach ($frame->to as $to) {
                    $names[PortableName::folded($to)] = true;
                }
            }
        }

        return \count($names);
    }

    /** @return array{list<TimedFrame>, list<FrameToFile>} */
    private static function card(int $size): array
    {
        mt_srand(4);
        $timed = $files = [];
        $at = new \DateTimeImmutable('2026-05-02 09:00:00 UTC');
        for ($n = 0; $n < $size; ++$n) {
            $at = $at->modify('+'.(0 === $n % 900 ? mt_rand(20_000, 60_000) : mt_rand(0, 20)).' seconds');
            $time = ShotTime::fromText($at->format('Y-m-d\TH:i:s').\sprintf('.%03d', mt_rand(0, 999)));
            $path = \sprintf('DCIM/%dTARNA/TARA%04d', 100 + intdiv($n, 9999), 1 + $n % 9999);
            $timed[] = new TimedFrame(
                $n,
                $time,
                0 === $n % 3 ? 'Tarn Optical Heron 3' : 'Tarn Optical Heron 5',
                $path.'.TRW',
            );
            $files[] = new FrameToFile(
                $n,
                [
                    new CardFile($path.'.TRW', FileKind::Raw, 25_000_000, 0),
                    new CardFile($path.'.JPG', FileKind::Jpeg, 6_000_000, 0),
                ],
                new FrameNaming(
                    $time,
                    \sprintf('TARA%04d', 1 + $n % 9999),
                    1 + $n % 9999,
                    'Heron 5',
                    'TO5-204417',
                    'BENCH',
                ),
            );
        }
        shuffle($timed);

        return [$timed, $files];
    }

    private static function byName(): HouseStyle
    {
        return HouseStyle::fromArray(
            [
                'name' => 'By name',
                'file' => [
                    ['piece' => 'shot_time', 'format' => 'yyyyMMdd'],
                    ['piece' => 'text', 'text' => '-'],
                    ['piece' => 'camera', 'blanks' => 'joined'],
                    ['piece' => 'text', 'text' => '-'],
                    ['piece' => 'original_name'],
                ],
            ] + HouseStyle::standard()->toArray(),
        );
    }
}
