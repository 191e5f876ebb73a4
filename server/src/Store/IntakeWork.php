<?php

declare(strict_types=1);

namespace Velvet\Server\Store;

use Doctrine\DBAL\Connection;

/** Which intakes are under way, for which cards, and what they wait for. Their states are {@see IntakeStates}. */
final readonly class IntakeWork
{
    public function __construct(private Connection $database, private Rows $rows)
    {
    }

    /** The one to be shown first; null where none is. */
    public function shown(): ?int
    {
        return $this->rows->first(
            "SELECT id FROM intake WHERE state IN ('waiting', 'running', 'paused')
                ORDER BY state = 'paused', id DESC LIMIT 1",
        )?->int('id');
    }

    public function isRunning(int $intake): bool
    {
        return IntakeState::Running->value
            === $this->rows->one('SELECT state FROM intake WHERE id = :id', ['id' => $intake])->text('state');
    }

    /** Counts seconds of work. */
    public function worked(int $intake, float $seconds): void
    {
        $this->database->executeStatement(
            'UPDATE intake SET seconds = seconds + CAST(:seconds AS double precision) WHERE id = :intake',
            ['seconds' => $seconds, 'intake' => $intake],
        );
    }

    /** @return array<mixed> the drives that it began with, as {@see \Velvet\Core\Copy\Drives::toArray()} gave them */
    public function drives(int $intake): array
    {
        return $this->rows->one('SELECT drives FROM intake WHERE id = :id', ['id' => $intake])->json('drives');
    }

    /** The one of its cards that is at this root; null where none is. */
    public function cardAt(int $intake, string $root): ?int
    {
        return $this->rows->first(
            'SELECT c.id FROM intake_card ic JOIN card c ON c.id = ic.card_id WHERE ic.intake_id = :intake
                AND c.root = :root',
            ['intake' => $intake, 'root' => $root],
        )?->int('id');
    }

    /** Whether a card is being copied, or about to be. */
    public function isCopying(Card $card): bool
    {
        return $this->hasIntake($card, [IntakeState::Waiting, IntakeState::Running]);
    }

    /** Whether an intake of the card came to its end. */
    public function wasTakenIn(Card $card): bool
    {
        return $this->hasIntake($card, [IntakeState::Done, IntakeState::Stopped]);
    }

    /** Another intake of the card that is not at its end. */
    public function other(Card $card, int $intake): ?int
    {
        return $this->rows->first(
            "SELECT i.id FROM intake i JOIN intake_card ic ON ic.intake_id = i.id WHERE ic.card_id = :card
                AND i.id <> :intake AND i.state IN ('waiting', 'running', 'paused') LIMIT 1",
            ['card' => $card->id(), 'intake' => $intake],
        )?->int('id');
    }

    /** @return list<int> intakes of a card that are sheets still */
    public function sheets(int $card): array
    {
        return $this->ids(
            "SELECT i.id FROM intake i JOIN intake_card ic ON ic.intake_id = i.id WHERE ic.card_id = :card
                AND i.state = 'sheet' ORDER BY i.id",
            ['card' => $card],
        );
    }

    /**
     * Intakes that rest until a drive or a card is there again.
     *
     * @return array<int, array{root: string, drives: array<mixed>}> what each awaits, and the drives that it began with
     */
    public function awaiting(): array
    {
        $awaiting = [];
        foreach ($this->rows->all(
            "SELECT id, awaits, drives FROM intake WHERE state = 'paused' AND awaits IS NOT NULL ORDER BY id",
        ) as $row) {
            $awaiting[$row->int('id')] = ['root' => $row->text('awaits'), 'drives' => $row->json('drives')];
        }

        return $awaiting;
    }

    /** @return list<int> intakes that should be under way; none where somebody was asked to look after them just now */
    public function unattended(): array
    {
        return $this->isAnyQueued()
            ? []
            : $this->ids("SELECT id FROM intake WHERE state IN ('waiting', 'running') ORDER BY id");
    }

    /** Whether the workers that copy have something before them. */
    public function isAnyQueued(): bool
    {
        return $this->rows->one(
            "SELECT EXISTS (SELECT FROM messenger_messages WHERE queue_name = 'copies' AND delivered_at IS NULL) AS it",
        )->bool('it');
    }

    public function isToBeSwept(int $intake): bool
    {
        return $this->rows->one(
            "SELECT state IN ('done', 'stopped') AND NOT swept AS it FROM intake WHERE id = :intake",
            ['intake' => $intake],
        )->bool('it');
    }

    /** @return list<int> */
    public function toBeSwept(): array
    {
        return $this->ids("SELECT id FROM intake WHERE state IN ('done', 'stopped') AND NOT swept ORDER BY id");
    }

    public function swept(int $intake): void
    {
        $this->database->executeStatement('UPDATE intake SET swept = true WHERE id = ?', [$intake]);
    }

    /** @return list<string> absolute paths of the folders into which an intake's files went, or were to go */
    public function folders(int $intake): array
    {
        $folders = [];
        foreach ($this->rows->all(<<<'SQL'
            SELECT DISTINCT regexp_replace(t.target, '/[^/]*$', '') AS folder, s.root, s.twin_root
            FROM transfer t JOIN intake i ON i.id = t.intake_id
                LEFT JOIN filed_file f ON f.id = t.repairs_file_id
                JOIN shelf s ON s.id = coalesce(f.shelf_id, i.shelf_id)
            WHERE t.intake_id = :intake
            SQL, ['intake' => $intake]) as $row) {
            foreach (array_filter([$row->text('root'), $row->textOrNull('twin_root')], is_string(...)) as $root) {
                $folders[] = $root.'/'.$row->text('folder');
            }
        }

        return $folders;
    }

    /** @param list<IntakeState> $states */
    private function hasIntake(Card $card, array $states): bool
    {
        return $this->rows->one(
            'SELECT EXISTS (SELECT FROM intake i JOIN intake_card ic ON ic.intake_id = i.id WHERE ic.card_id = :card
                AND i.state IN (SELECT jsonb_array_elements_text(CAST(:states AS jsonb)))) AS it',
            [
                'card' => $card->id(),
                'states' => json_encode(
                    array_map(static fn (IntakeState $state): string => $state->value, $states),
                    \JSON_THROW_ON_ERROR,
                ),
            ],
        )->bool('it');
    }

    /**
     * @param array<string, mixed> $parameters
     *
     * @return list<int>
     */
    private function ids(string $sql, array $parameters = []): array
    {
        return array_map(static fn (Row $row): int => $row->int('id'), $this->rows->all($sql, $parameters));
    }
}
