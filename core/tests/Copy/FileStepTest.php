<?php

declare(strict_types=1);

namespace Velvet\Core\Tests\Copy;

use PHPUnit\Framework\TestCase;
use Velvet\Core\Copy\DriveFull;
use Velvet\Core\Copy\FileStep;
use Velvet\Core\Copy\SourceChanged;
use Velvet\Core\Copy\VerifyMismatch;

final class FileStepTest extends TestCase
{
    public function testAFileIsFiledOnlyAfterItWasVerified(): void
    {
        $before = array_filter(
            FileStep::cases(),
            static fn (FileStep $step): bool => $step->mayBecome(FileStep::Filed),
        );
        self::assertSame([FileStep::Verifying], array_values($before));
        foreach ([FileStep::Filed, FileStep::Same] as $end) {
            self::assertTrue($end->isDone());
            self::assertSame([], array_filter(FileStep::cases(), $end->mayBecome(...)), 'nothing undoes it');
        }
    }

    public function testWhatWasInterruptedBeginsAgain(): void
    {
        foreach (FileStep::cases() as $step) {
            self::assertSame(
                $step->isUnderWay() || FileStep::Failed === $step,
                $step->mayBecome(FileStep::Planned),
                $step->value,
            );
            self::assertSame($step->isUnderWay(), $step->mayBecome(FileStep::Failed), $step->value);
        }
    }

    public function testAFailingFileIsTriedAgainUntilItIsSetDown(): void
    {
        $mismatch = VerifyMismatch::at('/twin/a.jpg');
        self::assertSame(
            [FileStep::Planned, FileStep::Planned, FileStep::Failed],
            array_map(
                static fn (int $tries): FileStep => FileStep::afterFailure($mismatch, $tries),
                [1, 2, FileStep::MOST_TRIES],
            ),
        );
        self::assertSame(
            FileStep::Failed,
            FileStep::afterFailure(SourceChanged::size('/card/a.jpg', 3, 4), 1),
            'what is no passing trouble is not tried again',
        );
        self::assertSame(FileStep::Failed, FileStep::afterFailure(DriveFull::at('/twin/a.jpg'), 1));
    }
}
