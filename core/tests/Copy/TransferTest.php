<?php

declare(strict_types=1);

namespace Velvet\Core\Tests\Copy;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Velvet\Core\Bytes\Digest;
use Velvet\Core\Bytes\Digests;
use Velvet\Core\Bytes\SecondDigest;
use Velvet\Core\Card\FileKind;
use Velvet\Core\Copy\FileStep;
use Velvet\Core\Copy\FrameOnItsWay;
use Velvet\Core\Copy\NoSuchStep;
use Velvet\Core\Copy\PlannedFile;
use Velvet\Core\Copy\Transfer;
use Velvet\Core\Plan\PlannedWords;
use Velvet\Core\Style\DngChoice;

/**
 * Every transition of a file on its way at every step: each is allowed or refused, and a refused one changes nothing.
 */
final class TransferTest extends TestCase
{
    /** The step, the tries and whether a worker has it, after each transition that is allowed at a step. */
    private const ALLOWED = [
        'planned' => ['begun' => 'copying, 1, w'],
        'copying' => [
            'begun' => 'copying, 2, w', 'read' => 'verifying, 1, w', 'same' => 'same, 1, ', 'failed' => 'failed, 1, ',
            'putBack' => 'planned, 1, ', 'givenBack' => 'planned, 0, ', 'halted' => 'planned, 0, ',
        ],
        'verifying' => [
            'begun' => 'copying, 2, w', 'filed' => 'filed, 1, ', 'failed' => 'failed, 1, ',
            'putBack' => 'planned, 1, ', 'givenBack' => 'planned, 0, ', 'halted' => 'planned, 0, ',
        ],
        'filed' => [],
        'same' => [],
        'failed' => ['retried' => 'planned, 0, '],
    ];
    private const TRANSITIONS = [
        'begun',
        'read',
        'filed',
        'same',
        'failed',
        'putBack',
        'givenBack',
        'halted',
        'retried',
    ];

    #[DataProvider('all')]
    public function testWhatIsAllowedHappensAndWhatIsNotIsRefused(string $step, string $transition): void
    {
        $file = self::at($step);
        $then = self::ALLOWED[$step][$transition] ?? null;
        $before = clone $file;
        try {
            self::do($file, $transition);
        } catch (NoSuchStep $e) {
            self::assertNull($then, $e->getMessage());
            self::assertStringStartsWith('DCIM/A.TRW is '.$step.', and cannot be ', $e->getMessage());
            self::assertEquals($before, $file);

            return;
        }
        self::assertSame($then, \sprintf('%s, %d, %s', $file->step()->value, $file->tries(), $file->worker() ?? ''));
    }

    /** @return iterable<string, array{string, string}> */
    public static function all(): iterable
    {
        foreach (array_keys(self::ALLOWED) as $step) {
            foreach (self::TRANSITIONS as $transition) {
                yield $step.': '.$transition => [$step, $transition];
            }
        }
    }

    public function testWhatIsDoneIsKnownByItsDigestAndItsFiledFile(): void
    {
        foreach (['filed', 'same'] as $step) {
            $file = self::at($step);
            self::assertEquals(Digest::ofBytes('a'), $file->digest());
            self::assertSame(str_repeat('2', 64), $file->secondDigest());
            self::assertSame(5, $file->filedFile());
            self::assertNull($file->failure());
        }
        $file = self::at('failed');
        self::assertNull($file->digest());
        self::assertSame('It cannot be read.', $file->failure());
    }

    public function testWhatIsAboutToTakeItsPlaceIsKnownEvenWhenThatIsCutOff(): void
    {
        self::assertNull(self::at('copying')->placing());
        $file = self::at('verifying');
        self::assertEquals(Digest::ofBytes('b'), $file->placing());
        $file->begun('another worker');
        self::assertEquals(Digest::ofBytes('b'), $file->placing());
    }

    public function testItIsWhatThePlanSaid(): void
    {
        $words = new PlannedWords(['headline' => 'Quay'], [3, 4], ['original_name' => 'A.TRW'], -3600);
        $file = self::planned(new PlannedFile(
            'DCIM/A.TRW', '2026/a.trw', FileKind::Raw, 9, 10, str_repeat('1', 32), true, $words, 6, DngChoice::Embed,
        ));
        self::assertEquals($words, $file->words());
        self::assertSame(
            ['DCIM/A.TRW', '2026/a.trw', FileKind::Raw, 9, 10, str_repeat('1', 32), true, 6, DngChoice::Embed],
            [
                $file->source(), $file->target(), $file->kind(), $file->bytes(), $file->modifiedAt(),
                $file->fingerprint()?->hex, $file->equals(), $file->repairs(), $file->dng(),
            ],
        );
        self::assertSame(
            [1, 2, 3, 4, 5, 'p', '2026-11-29 07:00:00.000', ['iso' => 100], 8],
            [
                $file->intake(), $file->entry(), $file->frame(), $file->position(), $file->card(), $file->picture(),
                $file->capturedAt(), $file->facts(), $file->counter(),
            ],
        );
        $plain = self::at('planned');
        self::assertNull($plain->words());
        self::assertSame(DngChoice::No, $plain->dng());
    }

    private static function do(Transfer $file, string $transition): void
    {
        $digests = new Digests(Digest::ofBytes('a'), SecondDigest::Sha256, str_repeat('2', 64));
        match ($transition) {
            'begun' => $file->begun('w'),
            'read' => $file->read(Digest::ofBytes('b')),
            'filed' => $file->filed($digests, 5),
            'same' => $file->same($digests, 5),
            'failed' => $file->failed('It cannot be read.'),
            'putBack' => $file->putBack(),
            'givenBack' => $file->givenBack(),
            'halted' => $file->halted(),
            'retried' => $file->retried(),
            default => self::fail($transition),
        };
    }

    private static function at(string $step): Transfer
    {
        $file = self::planned(
            new PlannedFile('DCIM/A.TRW', '2026/a.trw', FileKind::Raw, 9, 10, str_repeat('1', 32)),
        );
        $transitions = match (FileStep::from($step)) {
            FileStep::Planned => [],
            FileStep::Copying => ['begun'],
            FileStep::Verifying => ['begun', 'read'],
            FileStep::Filed => ['begun', 'read', 'filed'],
            FileStep::Same => ['begun', 'same'],
            FileStep::Failed => ['begun', 'failed'],
        };
        foreach ($transitions as $transition) {
            self::do($file, $transition);
        }

        return $file;
    }

    private static function planned(PlannedFile $file): Transfer
    {
        $frame = new FrameOnItsWay(1, 2, 3, 4, 5, 'p', '2026-11-29 07:00:00.000', ['iso' => 100], 8);

        return new Transfer($frame, $file, 7);
    }
}
