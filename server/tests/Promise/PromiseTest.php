<?php

declare(strict_types=1);

namespace Velvet\Server\Tests\Promise;

use Velvet\Server\Tests\ServerTestCase;
use Velvet\Server\Tests\TestDrives;

/**
 * A model of the promise: random sequences of what happens to cards, drives, copies and the program, played against the
 * real code; whenever the program says that a card is cleared, an oracle that reads card and drives byte by byte must
 * agree.
 *
 * `VELVET_SEQUENCES=10000 VELVET_SEED=1` plays more of them.
 */
final class PromiseTest extends ServerTestCase
{
    private const SEQUENCES = 200;
    private const MOVES = 10;
    /** Sequences after which the database is emptied, so that it stays as small as a photographer's. */
    private const EMPTIED_AFTER = 50;

    public function testWheneverACardIsCalledClearedItIsTrue(): void
    {
        $sequences = self::number('VELVET_SEQUENCES', self::SEQUENCES);
        $first = self::number('VELVET_SEED', 1);
        $said = 0;
        $asked = 0;
        $moves = [];
        for ($seed = $first; $seed < $first + $sequences; ++$seed) {
            if (0 === ($seed - $first) % self::EMPTIED_AFTER) {
                $this->emptyDatabase();
                $this->database()->executeStatement('SET synchronous_commit = off');
            }
            // in memory where there is such a folder: it is about what is true, not about how fast a drive syncs
            $folder = (is_writable('/dev/shm') ? '/dev/shm' : $this->folder).'/velvet-promise-'.getmypid().'-'.$seed;
            mkdir($folder);
            [TestDrives::$folder, TestDrives::$as] = [$folder, []];
            $world = new World($folder, $seed, fn (string $class): object => $this->get($class), $this->restart(...));
            for ($n = 0; $n < self::MOVES; ++$n) {
                $moves[$world->move()] = true;
                foreach ($world->answers() as [$cleared, $why]) {
                    ++$asked;
                    $said += $cleared ? 1 : 0;
                    self::assertTrue(
                        !$cleared || '' === $why,
                        \sprintf("seed %d: cleared, but %s\n%s", $seed, $why, implode("\n", $world->told)),
                    );
                }
            }
            exec('rm -rf '.escapeshellarg($folder));
        }
        fwrite(
            \STDERR,
            \sprintf(
                "\n%d sequences from seed %d: asked %d times, cleared %d times, always rightly\n",
                $sequences,
                $first,
                $asked,
                $said,
            ),
        );
        // a program that never says it would keep the promise, too
        self::assertGreaterThan($sequences, $said);
        self::assertGreaterThanOrEqual(20, \count($moves), implode(', ', array_keys($moves)));
    }

    private static function number(string $name, int $else): int
    {
        $given = getenv($name);

        return false === $given || '' === $given ? $else : (int) $given;
    }

    /** The program ends and starts again: nothing that it only remembers survives. */
    private function restart(): void
    {
        self::ensureKernelShutdown();
        self::bootKernel();
    }
}
