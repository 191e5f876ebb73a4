<?php

declare(strict_types=1);

namespace Velvet\Server\Work\Halts;

use Doctrine\DBAL\Exception as DatabaseTrouble;
use Velvet\Core\Copy\Drives;
use Velvet\Core\Drive\DriveTable;
use Velvet\Server\Store\CardAt;
use Velvet\Server\Store\Happenings;
use Velvet\Server\Store\Intake;
use Velvet\Server\Store\IntakeStates;
use Velvet\Server\Store\IntakeWork;
use Velvet\Server\Store\Ledger;
use Velvet\Server\Work\Cards\SameCard;
use Velvet\Server\Work\Intakes\Intakes;

/** Intakes that pause by themselves because a whole drive or card is gone, instead of failing file by file. */
final readonly class Halts
{
    private const MOST_STUMBLES = 3;

    public function __construct(
        private IntakeStates $states,
        private IntakeWork $work,
        private Ledger $ledger,
        private Happenings $happenings,
        private DriveTable $table,
        private SameCard $sameCard,
    ) {
    }

    /** What an intake needs for a file of this card and that is not there any more. */
    public function missing(Intake $intake, CardAt $card): ?Halt
    {
        $root = $this->drives($intake)->missing();
        if (null !== $root) {
            return new Halt(
                \sprintf(
                    'The %s “%s” is not connected any more. What is copied stays filed, nothing is half written. '
                        .'Connect it again and the copy goes on by itself.',
                    $root === $intake->shelf?->twinRoot ? 'twin' : 'shelf',
                    $root,
                ),
                $root,
            );
        }
        foreach ($intake->shelf?->roots() ?? [] as $root) {
            clearstatcache(true, $root);
            if (!is_writable($root)) { // no file after this one could be written either
                return new Halt(
                    \sprintf(
                        'Nothing can be written to “%s” any more: its drive is read-only, as some become when they '
                            .'fail, or yours no more. What is copied stays filed, nothing is half written. Look at '
                            .'the drive, then resume.',
                        $root,
                    ),
                );
            }
        }
        if (!self::isThere($card->root)) {
            return new Halt(
                \sprintf(
                    'The card %s is out. What is copied stays filed, nothing is half written. Put it in again and '
                        .'the copy goes on by itself.',
                    $card->label,
                ),
                $card->root,
            );
        }
        if (!$this->sameCard->isIn($intake->id(), $card->id, $card->root)) {
            return new Halt(
                \sprintf(
                    'The card at “%s” is not the card %s that this intake began with. Nothing was taken from it; '
                        .'what is copied stays filed. Put the right card in and the copy goes on by itself.',
                    $card->root,
                    $card->label,
                ),
                $card->root,
            );
        }

        return null;
    }

    /** The drives that an intake began with. */
    public function drives(Intake $intake): Drives
    {
        return Drives::fromRecord($this->table, $this->work->drives($intake->id()));
    }

    public function pause(Intake $intake, Halt $halt): void
    {
        if ($this->states->halted($intake->id(), $halt->why, $halt->awaits)) {
            $this->ledger->write('intake_halted', ['intake' => $intake->id(), 'why' => $halt->why]);
            $this->happenings->tell('intake', ['id' => $intake->id(), 'state' => 'paused']);
        }
    }

    /**
     * The work on an intake broke off by an error of ours. Begun again it may go on; broken off again and again, it
     * waits for a person.
     */
    public function stumbled(int $intake, \Throwable $e): void
    {
        try {
            $stumbles = $this->states->stumbled($intake);
            if ($stumbles >= self::MOST_STUMBLES) {
                $why = \sprintf(
                    'An error stopped the copy %d times in a row: %s. What is copied stays filed, nothing is half '
                        .'written. Resume to try again; if it stays so, look into the log.',
                    $stumbles,
                    rtrim($e->getMessage(), '.'),
                );
                if ($this->states->halted($intake, $why)) {
                    $this->ledger->write('intake_halted', ['intake' => $intake, 'why' => $why]);
                    $this->happenings->tell('intake', ['id' => $intake, 'state' => 'paused']);
                }
            }
        } catch (DatabaseTrouble) {
            // the database is what went: it is begun again when it is there
        }
    }

    public function wentOn(int $intake): void
    {
        $this->states->wentOn($intake);
    }

    /**
     * @return list<int> intakes that waited for a drive or a card that is there again; they are waiting for a worker
     *     now
     */
    public function over(): array
    {
        $resumed = [];
        foreach ($this->work->awaiting() as $intake => ['root' => $root, 'drives' => $drives]) {
            if (
                Drives::fromRecord($this->table, $drives)->has($root)
                && $this->isTheCard($intake, $root)
                && $this->states->freed($intake, $root)
            ) {
                $resumed[] = $intake;
                $this->happenings->tell('intake', ['id' => $intake, 'state' => 'waiting']);
            }
        }

        return $resumed;
    }

    /** Whether what is at the root of one of the intake's cards is that card; a drive's root is none. */
    private function isTheCard(int $intake, string $root): bool
    {
        $card = $this->work->cardAt($intake, $root);

        return null === $card || $this->sameCard->isIn($intake, $card, $root);
    }

    /** @phpstan-impure cards and drives come and go */
    private static function isThere(string $root): bool
    {
        clearstatcache(true, $root);

        return is_dir($root);
    }
}
