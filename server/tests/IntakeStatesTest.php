<?php

declare(strict_types=1);

namespace Velvet\Server\Tests;

use PHPUnit\Framework\Attributes\DataProvider;
use Velvet\Server\Store\IntakeState;
use Velvet\Server\Store\IntakeStates;

/** Every way from state to state in every state: it is gone or refused, and a refused one changes nothing. */
final class IntakeStatesTest extends ServerTestCase
{
    private const WAYS = [
        'settled' => ['sheet' => 'waiting'],
        'begun' => ['waiting' => 'running', 'running' => 'running'],
        'paused' => ['waiting' => 'paused', 'running' => 'paused'],
        'halted' => ['running' => 'paused'],
        'resumed' => ['paused' => 'waiting', 'halted' => 'waiting'],
        'freed' => ['halted' => 'waiting'],
        'stopped' => [
            'waiting' => 'stopped', 'running' => 'stopped', 'paused' => 'stopped', 'halted' => 'stopped',
        ],
        'done' => ['running' => 'done'],
        'retried' => ['done' => 'waiting'],
    ];

    #[DataProvider('ways')]
    public function testEachWay(string $way): void
    {
        $this->shot('DCIM/100/T0001.JPG', '2026:05:02 19:31:40');
        $this->sheet();
        $states = $this->get(IntakeStates::class);
        foreach (['halted', ...array_column(IntakeState::cases(), 'value')] as $from) {
            $this->database()->executeStatement(
                'UPDATE intake SET state = :state, halted = :why, awaits = :root, started_at = now(),
                    finished_at = now(), swept = true, stumbles = 2',
                [
                    'state' => 'halted' === $from ? 'paused' : $from,
                    'why' => 'halted' === $from ? 'It went.' : null,
                    'root' => 'halted' === $from ? '/drive' : null,
                ],
            );
            $before = $this->row();
            $turned = match ($way) {
                'settled' => $states->settled(1),
                'begun' => $states->begun(1),
                'paused' => $states->paused(1),
                'halted' => $states->halted(1, 'The drive went.', '/drive'),
                'resumed' => $states->resumed(1),
                'freed' => $states->freed(1, '/drive'),
                'stopped' => $states->stopped(1, new \DateTimeImmutable()),
                'done' => $states->done(1, new \DateTimeImmutable()),
                'retried' => $states->retried(1),
                default => self::fail($way),
            };
            $then = self::WAYS[$way][$from] ?? null;
            self::assertSame(null !== $then, $turned, $from);
            $row = $this->row();
            if (null === $then) {
                self::assertSame($before, $row, $from);
            } else {
                self::assertSame($then, $row['state'], $from);
                self::assertSame('halted' === $way ? 'The drive went.' : null, $row['halted'], $from);
                self::assertSame('halted' === $way ? '/drive' : null, $row['awaits'], $from);
                self::assertSame('retried' !== $way, $row['swept'], $from);
            }
        }
    }

    /** @return iterable<string, array{string}> */
    public static function ways(): iterable
    {
        foreach (array_keys(self::WAYS) as $way) {
            yield $way => [$way];
        }
    }

    public function testWhatWaitsForAnotherDriveStaysAsItIs(): void
    {
        $this->shot('DCIM/100/T0001.JPG', '2026:05:02 19:31:40');
        $this->sheet();
        $states = $this->get(IntakeStates::class);
        $this->database()->executeStatement("UPDATE intake SET state = 'running', started_at = now()");
        self::assertTrue($states->halted(1, 'It went.', '/drive'));
        self::assertFalse($states->freed(1, '/other'));
        self::assertSame('paused', $this->row()['state']);
    }

    /** @return array<string, mixed> */
    private function row(): array
    {
        $row = $this->database()->fetchAssociative('SELECT state, halted, awaits, swept, stumbles FROM intake');
        self::assertIsArray($row);

        return $row;
    }
}
