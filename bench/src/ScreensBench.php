<?php

declare(strict_types=1);

namespace Velvet\Bench;

/**
 * What a person waits for on the screens of a large card, in a real browser: the first page, the sheet, a key in its
 * contact sheet, an entry begun, and scrolling. There is no other program to compare with.
 */
final class ScreensBench implements Bench
{
    private const FRAMES = [5000, 20000];

    /** Frames as large as the pictures of a contact sheet: none is larger on these screens. */
    private const LONG_EDGE = 360;

    private const TIMES = [
        'keys' => 'arrow to the next frame painted (aim 16 ms)',
        'splits' => 'a new entry painted (aim 50 ms)',
        'scrolls' => 'a step of scrolling painted',
    ];

    public function run(string $folder): iterable
    {
        foreach (self::FRAMES as $frames) {
            $measured = BenchCard::inTheBrowser('screens.mjs', $frames, self::LONG_EDGE);
            $bytes = $measured['bytes'] ?? null;
            $millis = $measured['millis'] ?? null;
            \assert(\is_array($bytes) && \is_array($millis));
            yield \sprintf(
                '%d frames: the first page takes %s of the wire, %s of it code and styles (aim 120); the sheet %s '
                    .'(aim 150), its tape %s',
                $frames,
                self::kilobytes($bytes['firstLoad'] ?? null),
                self::kilobytes($bytes['code'] ?? null),
                self::kilobytes($bytes['sheet'] ?? null),
                self::kilobytes($bytes['tape'] ?? null),
            );
            foreach (self::TIMES as $what => $words) {
                $times = $millis[$what] ?? null;
                \assert(\is_array($times));
                $times = array_values(array_filter($times, is_numeric(...)));
                sort($times);
                yield \sprintf(
                    '%d frames, %s: median %.0f ms, 95 %% %.0f ms, of %d (nothing to compare with)',
                    $frames,
                    $words,
                    $times[intdiv(\count($times), 2)] ?? throw new \RuntimeException('The browser measured nothing.'),
                    $times[(int) floor(0.95 * (\count($times) - 1))],
                    \count($times),
                );
            }
        }
    }

    private static function kilobytes(mixed $bytes): string
    {
        return is_numeric($bytes) ? \sprintf('%.1f kB', $bytes / 1000) : throw new \RuntimeException(
            'The browser measured nothing.',
        );
    }
}
