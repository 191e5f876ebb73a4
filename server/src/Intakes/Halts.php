<?php

declare(strict_types=1);

namespace Velvet\Server\Intakes;

use Doctrine\DBAL\Connection;
use Velvet\Core\Transfer\Drives;
use Velvet\Server\Entity\Intake;
use Velvet\Server\Feed\Happenings;
use Velvet\Server\Ledger\Ledger;
use Velvet\Server\Row;
use Velvet\Server\Rows;

/** Intakes that pause by themselves because a whole drive or card is gone, instead of failing file by file. */
final readonly class Halts
{
    public function __construct(private Connection $database, private Rows $rows, private Ledger $ledger, private Happenings $happenings)
    {
    }

    /** What an intake needs for this file and that is not there any more. */
    public function missing(Intake $intake, Row $transfer): ?Halt
    {
        $root = $this->drives($intake)->missing();
        if (null !== $root) {
            return new Halt(\sprintf('The %s “%s” is not connected any more. What is copied stays filed, nothing is half written. Connect it again and the copy goes on by itself.', $root === $intake->shelf?->twinRoot ? 'twin' : 'shelf', $root), $root);
        }
        if (!self::isThere($transfer->text('root'))) {
            return new Halt(\sprintf('The card %s is out. What is copied stays filed, nothing is half written. Put it in again and the copy goes on by itself.', $transfer->text('label')), $transfer->text('root'));
        }

        return null;
    }

    /** The drives that an intake began with. */
    public function drives(Intake $intake): Drives
    {
        $devices = array_filter($this->rows->one('SELECT drives FROM intake WHERE id = :intake', ['intake' => $intake->id()])->json('drives'), is_int(...));

        return new Drives(array_combine(array_map(strval(...), array_keys($devices)), $devices));
    }

    public function pause(Intake $intake, Halt $halt): void
    {
        if (1 === $this->database->executeStatement("UPDATE intake SET state = 'paused', halted = :why, awaits = :awaits WHERE id = :intake AND state = 'running'", ['why' => $halt->why, 'awaits' => $halt->awaits, 'intake' => $intake->id()])) {
            $this->ledger->write('intake_halted', ['intake' => $intake->id(), 'why' => $halt->why]);
            $this->happenings->tell('intake', ['id' => $intake->id(), 'state' => 'paused']);
        }
    }

    /** @return list<int> intakes that waited for a drive or a card that is there again; they are waiting for a worker now */
    public function over(): array
    {
        $resumed = [];
        foreach ($this->rows->all("SELECT id, awaits, drives FROM intake WHERE state = 'paused' AND awaits IS NOT NULL") as $row) {
            $root = $row->text('awaits');
            $device = $row->json('drives')[$root] ?? null;
            $isBack = \is_int($device) ? null === (new Drives([$root => $device]))->missing() : self::isThere($root);
            if ($isBack && 1 === $this->database->executeStatement("UPDATE intake SET state = 'waiting', halted = NULL, awaits = NULL WHERE id = :intake AND state = 'paused' AND awaits = :root", ['intake' => $row->int('id'), 'root' => $root])) {
                $resumed[] = $row->int('id');
                $this->happenings->tell('intake', ['id' => $row->int('id'), 'state' => 'waiting']);
            }
        }

        return $resumed;
    }

    /** @phpstan-impure cards and drives come and go */
    private static function isThere(string $root): bool
    {
        clearstatcache(true, $root);

        return is_dir($root);
    }
}
