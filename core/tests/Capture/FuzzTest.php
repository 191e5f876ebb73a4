<?php

declare(strict_types=1);

namespace Velvet\Core\Tests\Capture;

use PHPUnit\Framework\TestCase;
use Velvet\Core\Capture\Capture;
use Velvet\Core\Tests\TemporaryFolder;

/**
 * Damaged files of every format: changed, cut, and crossed with one another. Seeds are fixed, so that a failure comes
 * again.
 */
final class FuzzTest extends TestCase
{
    use TemporaryFolder;

    private const FILES = 20_000;
    private const MOST_BYTES = 64 * 1024 * 1024;

    public function testDamageIsToldAndNeverThrown(): void
    {
        $samples = array_values(Samples::all());
        \assert([] !== $samples);
        $capture = Capture::inZone(new \DateTimeZone('UTC'));
        // in memory where possible: 20,000 files
        $path = (is_writable('/dev/shm') ? '/dev/shm/velvet-fuzz-'.getmypid() : $this->folder.'/damaged');
        $read = 0;
        mt_srand(20_260_504);
        for ($n = 0; $n < self::FILES; ++$n) {
            $bytes = self::damaged($samples, $n % 3);
            file_put_contents($path, $bytes);
            $reading = $capture->of($path, 0);
            $read += $reading->bytesRead;
            $facts = $reading->facts->toArray();
            json_encode($facts, \JSON_THROW_ON_ERROR); // refuses what is no UTF-8 and no number
            if (($facts['width'] ?? 0) < 0 || ($facts['height'] ?? 0) < 0) {
                self::fail("File $n gave impossible facts.");
            }
        }
        unlink($path);
        self::assertGreaterThan(self::FILES, $read);
        self::assertLessThan(self::MOST_BYTES, memory_get_peak_usage());
    }

    /** @param non-empty-list<string> $samples */
    private static function damaged(array $samples, int $way): string
    {
        $bytes = $samples[mt_rand(0, \count($samples) - 1)];
        if (1 === $way) {
            return substr($bytes, 0, mt_rand(0, \strlen($bytes)));
        }
        if (2 === $way) {
            $other = $samples[mt_rand(0, \count($samples) - 1)];
            $at = mt_rand(0, min(\strlen($bytes), 2000));

            return substr($bytes, 0, $at).substr($other, mt_rand(0, min(\strlen($other), 2000)));
        }
        for ($change = mt_rand(1, 16); $change > 0; --$change) {
            // most changes hit the structures at the start; some put in the numbers at which counters and lengths break
            $at = mt_rand(0, min(\strlen($bytes), 0 === $change % 4 ? 1_000_000 : 900) - 1);
            $bytes[$at] = [\chr(mt_rand(0, 255)), "\0", "\xFF", "\x7F"][mt_rand(0, 3)];
        }

        return $bytes;
    }
}
