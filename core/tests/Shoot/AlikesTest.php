<?php

declare(strict_types=1);

namespace Velvet\Core\Tests\Shoot;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Velvet\Core\Capture\Likeness;
use Velvet\Core\Shoot\Alikes;

final class AlikesTest extends TestCase
{
    /**
     * @param string          $frames a frame each: how many bits it has set, `-` where it is not measured, and behind
     *                                `/` its camera
     * @param list<int|null>  $seconds
     * @param list<list<int>> $runs
     */
    #[DataProvider('shoots')]
    public function testNeighboursThatLookAlike(string $frames, array $seconds, array $runs): void
    {
        $likenesses = $cameras = [];
        foreach (explode(' ', $frames) as $frame) {
            [$bits, $camera] = explode('/', $frame.'/a');
            $cameras[] = $camera;
            $likenesses[] = '-' === $bits
                ? null
                : Likeness::fromHex(str_pad(str_repeat('f', intdiv((int) $bits, 4)), 32, '0'));
        }
        $ticks = array_map(static fn (?int $second): ?int => null === $second ? null : 1000 * $second, $seconds);
        self::assertSame($runs, Alikes::in($likenesses, $ticks, $cameras));
    }

    /** @return iterable<string, array{string, list<int|null>, list<list<int>>}> */
    public static function shoots(): iterable
    {
        yield 'two tries, and another picture' => ['0 4 64', [0, 10, 20], [[0, 1]]];
        yield 'all are like the first one' => ['0 8 16 24 28', [0, 1, 2, 3, 4], [[0, 1, 2], [3, 4]]];
        yield 'a minute is soon, more is not' => ['0 0 0', [0, 60, 121], [[0, 1]]];
        yield 'without a time nobody knows' => ['0 0', [0, null], []];
        yield 'what is not measured, or in another group, stands between' => ['0 - 0 0', [0, 1, 2, 3], [[2, 3]]];
        yield 'each camera for itself' => ['0/a 64/b 0/a 64/b 0/a', [0, 1, 2, 3, 4], [[0, 2, 4], [1, 3]]];
        yield 'nothing' => ['0', [0], []];
    }
}
