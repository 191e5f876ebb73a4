<?php

declare(strict_types=1);

namespace Velvet\Core\Tests\Filed;

use PHPUnit\Framework\TestCase;
use Velvet\Core\Filed\Witness;

final class WitnessTest extends TestCase
{
    public function testCardsOfBothSlotsAreComparedFrameByFrame(): void
    {
        $first = [
            '100/T1' => ['trw' => 'a', 'jpg' => 'b'],
            '100/T2' => ['jpg' => 'c'],
            '100/T3' => ['jpg' => 'd'],
            '100/T4' => ['jpg' => null],
            '100/T5' => ['trw' => 'e', 'jpg' => 'f'],
            '100/T6' => ['jpg' => 'g'],
        ];
        $second = [
            '100/T1' => ['trw' => 'a', 'jpg' => 'b'],
            '100/T3' => ['jpg' => 'x'],
            '100/T4' => ['jpg' => 'h'],
            '100/T5' => ['jpg' => 'f'],
            '101/T9' => ['jpg' => 'g'],
            '101/T7' => ['jpg' => 'i'],
        ];
        $witness = Witness::of($first, $second);
        self::assertSame(['T1', 'T6'], $witness->same, 'T6 has another name on the other card');
        self::assertSame(['T2'], $witness->onlyFirst);
        self::assertSame(['T7'], $witness->onlySecond);
        self::assertSame(['T3', 'T4', 'T5'], $witness->differs, 'other bytes, unreadable on one, a file short');
    }

    public function testRawInOneSlotAndJpegInTheOtherAreOneExposureInOtherKinds(): void
    {
        $witness = Witness::of(['100/T1' => ['trw' => 'a']], ['100/T1' => ['jpg' => 'b']]);
        self::assertSame([['T1'], []], [$witness->otherKinds, $witness->differs]);
        self::assertTrue($witness->isOfTheSameExposures());
    }

    public function testCardsThatMerelyCountAlikeAreNotOfTheSameExposures(): void
    {
        self::assertFalse(
            Witness::of(
                ['100/T1' => ['jpg' => 'a'], '100/T2' => ['jpg' => 'b']],
                ['100/T1' => ['jpg' => 'c'], '100/T2' => ['jpg' => 'd']],
            )->isOfTheSameExposures(),
        );
        self::assertFalse(Witness::of([], [])->isOfTheSameExposures());
    }
}
