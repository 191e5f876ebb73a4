<?php

declare(strict_types=1);

namespace Velvet\Server\Store;

use Doctrine\DBAL\ArrayParameterType;
use Doctrine\DBAL\Connection;

/**
 * The ways from state to state that an intake has; there are no others. Each is asked of its row itself, so that of two
 * that come at once the second finds what the first made of it. All of them say whether it was in a state that leads
 * there; nothing is done else.
 */
final readonly class IntakeStates
{
    public function __construct(private Connection $database, private Rows $rows)
    {
    }

    /** Its names are settled: the copy may begin. */
    public function settled(int $intake): bool
    {
        return $this->turn($intake, [IntakeState::Sheet], IntakeState::Waiting);
    }

    /** A worker is at it; there may be others. */
    public function begun(int $intake): bool
    {
        return $this->turn($intake, [IntakeState::Waiting, IntakeState::Running], IntakeState::Running);
    }

    /** A person lets it rest. */
    public function paused(int $intake): bool
    {
        return $this->turn(
            $intake,
            [IntakeState::Waiting, IntakeState::Running],
            IntakeState::Paused,
            ['stumbles' => 0],
        );
    }

    /**
     * It rests by itself.
     *
     * @param string      $why    a sentence
     * @param string|null $awaits the root that must be there again before it goes on by itself
     */
    public function halted(int $intake, string $why, ?string $awaits = null): bool
    {
        return $this->turn(
            $intake,
            [IntakeState::Running],
            IntakeState::Paused,
            ['halted' => $why, 'awaits' => $awaits, 'stumbles' => 0],
        );
    }

    /** A person lets it go on. */
    public function resumed(int $intake): bool
    {
        return $this->turn($intake, [IntakeState::Paused], IntakeState::Waiting, ['stumbles' => 0]);
    }

    /** What it waited for is there again. */
    public function freed(int $intake, string $root): bool
    {
        return $this->turn($intake, [IntakeState::Paused], IntakeState::Waiting, while: ['awaits' => $root]);
    }

    public function stopped(int $intake, \DateTimeImmutable $at): bool
    {
        return $this->turn(
            $intake,
            [IntakeState::Waiting, IntakeState::Running, IntakeState::Paused],
            IntakeState::Stopped,
            ['finished_at' => $at->format('c'), 'stumbles' => 0],
        );
    }

    /** Nothing is left to do. */
    public function done(int $intake, \DateTimeImmutable $at): bool
    {
        return $this->turn($intake, [IntakeState::Running], IntakeState::Done, ['finished_at' => $at->format('c')]);
    }

    /** What failed is tried again. */
    public function retried(int $intake): bool
    {
        return $this->turn(
            $intake,
            [IntakeState::Done],
            IntakeState::Waiting,
            ['swept' => 'false', 'stumbles' => 0],
        );
    }

    /** The ledger's line that closed it. */
    public function sealed(int $intake, string $seal): void
    {
        $this->database->update('intake', ['seal' => $seal], ['id' => $intake]);
    }

    /** @return int how often in a row the work on it broke off by an error of ours; 0 where nobody is at it */
    public function stumbled(int $intake): int
    {
        return $this->rows->first(
            "UPDATE intake SET stumbles = stumbles + 1 WHERE id = :intake AND state = 'running' RETURNING stumbles",
            ['intake' => $intake],
        )?->int('stumbles') ?? 0;
    }

    public function wentOn(int $intake): void
    {
        $this->database->executeStatement(
            'UPDATE intake SET stumbles = 0 WHERE id = :intake AND stumbles > 0',
            ['intake' => $intake],
        );
    }

    /**
     * @param list<IntakeState>              $from
     * @param array<string, string|int|null> $columns what else is known then
     * @param array<string, string>          $while   what else its row must hold, by column
     */
    private function turn(
        int $intake,
        array $from,
        IntakeState $to,
        array $columns = [],
        array $while = [],
    ): bool {
        $columns = ['state' => $to->value] + $columns + ['halted' => null, 'awaits' => null];
        $set = array_map(static fn (string $column): string => "$column = :$column", array_keys($columns));
        $where = array_map(static fn (string $column): string => " AND $column = :while_$column", array_keys($while));

        return 1 === $this->database->executeStatement(
            \sprintf(
                'UPDATE intake SET %s WHERE id = :intake AND state IN (:from)%s',
                implode(', ', $set),
                implode('', $where),
            ),
            $columns + array_combine(
                array_map(static fn (string $column): string => 'while_'.$column, array_keys($while)),
                $while,
            ) + [
                'intake' => $intake,
                'from' => array_map(static fn (IntakeState $state): string => $state->value, $from),
            ],
            ['from' => ArrayParameterType::STRING],
        );
    }
}
