<?php

declare(strict_types=1);

namespace Velvet\Server\Store;

use Doctrine\DBAL\Connection;

/** The latest edits of sheets, each with what the sheet was before it; what was undone keeps what it was after it. */
final readonly class SheetSteps
{
    private const MOST = 200;
    private const LAST = 'FROM sheet_step WHERE intake_id = :intake AND after IS NULL ORDER BY id DESC LIMIT 1';
    private const NEXT = 'FROM sheet_step WHERE intake_id = :intake AND after IS NOT NULL ORDER BY id LIMIT 1';

    public function __construct(private Connection $database, private Rows $rows)
    {
    }

    /** The edit that would be undone. */
    public function last(Intake $intake): ?SheetStep
    {
        return self::read($this->rows->first(
            'SELECT id, before AS snapshot '.self::LAST,
            ['intake' => $intake->id()],
        ));
    }

    /** The edit that was undone and would be done again. */
    public function next(Intake $intake): ?SheetStep
    {
        return self::read($this->rows->first(
            'SELECT id, after AS snapshot '.self::NEXT,
            ['intake' => $intake->id()],
        ));
    }

    /** What the edit is called that would be undone. */
    public function lastLabel(Intake $intake): ?string
    {
        return $this->rows->first('SELECT label '.self::LAST, ['intake' => $intake->id()])?->text('label');
    }

    /** What the edit is called that would be done again. */
    public function nextLabel(Intake $intake): ?string
    {
        return $this->rows->first('SELECT label '.self::NEXT, ['intake' => $intake->id()])?->text('label');
    }

    /**
     * What was undone cannot be done again any more.
     *
     * @param array<string, mixed> $before
     */
    public function add(Intake $intake, string $label, array $before): void
    {
        $this->database->executeStatement(
            'DELETE FROM sheet_step WHERE intake_id = :intake AND (after IS NOT NULL OR id <= (SELECT id
                FROM sheet_step WHERE intake_id = :intake ORDER BY id DESC OFFSET :most LIMIT 1))',
            ['intake' => $intake->id(), 'most' => self::MOST],
        );
        $this->database->executeStatement(
            'INSERT INTO sheet_step (intake_id, label, before) VALUES (:intake, :label, CAST(:before AS jsonb))',
            ['intake' => $intake->id(), 'label' => $label, 'before' => self::json($before)],
        );
    }

    /** @param array<string, mixed> $after */
    public function undone(SheetStep $step, array $after): void
    {
        $this->database->executeStatement(
            'UPDATE sheet_step SET after = CAST(:after AS jsonb) WHERE id = :id',
            ['after' => self::json($after), 'id' => $step->id],
        );
    }

    public function doneAgain(SheetStep $step): void
    {
        $this->database->executeStatement('UPDATE sheet_step SET after = NULL WHERE id = :id', ['id' => $step->id]);
    }

    private static function read(?Row $row): ?SheetStep
    {
        return null === $row ? null : new SheetStep($row->int('id'), $row->json('snapshot'));
    }

    /** @param array<string, mixed> $snapshot */
    private static function json(array $snapshot): string
    {
        return json_encode($snapshot, \JSON_THROW_ON_ERROR | \JSON_UNESCAPED_UNICODE);
    }
}
