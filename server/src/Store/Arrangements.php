<?php

declare(strict_types=1);

namespace Velvet\Server\Store;

use Doctrine\DBAL\Connection;
use Doctrine\ORM\EntityManagerInterface;
use Velvet\Core\Shoot\ArrangedEntry;
use Velvet\Core\Shoot\Arrangement;
use Velvet\Core\Shoot\Day;

/** Reads and keeps how a sheet's frames lie in its entries; only what changed is written. */
final readonly class Arrangements
{
    public function __construct(
        private EntityManagerInterface $entities,
        private Connection $database,
        private JsonRows $jsonRows,
        private Rows $rows,
    ) {
    }

    /**
     * Where each frame of the sheet lies now.
     *
     * @return array<int, array{int, int}> the entry and the place in capture order, by the frame's id; in that order
     */
    public function places(Intake $intake): array
    {
        // thousands of frames in one row
        $of = $this->rows->one(<<<'SQL'
            SELECT json_agg(frame_id) AS frames, json_agg(entry_id) AS entries, json_agg(position) AS positions
            FROM (
                SELECT ef.* FROM entry_frame ef JOIN entry e ON e.id = ef.entry_id
                WHERE e.intake_id = :intake ORDER BY ef.position
            ) AS in_order
            SQL, ['intake' => $intake->id()]);
        [$entries, $positions] = [$of->ints('entries'), $of->ints('positions')];
        $places = [];
        foreach ($of->ints('frames') as $i => $frame) {
            $places[$frame] = [$entries[$i], $positions[$i]];
        }

        return $places;
    }

    /** @return int|null the number of the entry where a frame lies; null: the sheet has no such frame */
    public function home(Intake $intake, int $frame): ?int
    {
        return $this->rows->first(<<<'SQL'
            SELECT e.number FROM entry_frame ef JOIN entry e ON e.id = ef.entry_id
            WHERE e.intake_id = :intake AND ef.frame_id = :frame
            SQL, ['intake' => $intake->id(), 'frame' => $frame])?->int('number');
    }

    /** @return array<int, int> the first frame of each entry by the entry's id: the one by which it is known */
    public function firstFrames(Intake $intake): array
    {
        $frames = [];
        foreach ($this->rows->all(<<<'SQL'
            SELECT DISTINCT ON (ef.entry_id) ef.entry_id, ef.frame_id
            FROM entry_frame ef JOIN entry e ON e.id = ef.entry_id JOIN card_frame f ON f.id = ef.frame_id
            WHERE e.intake_id = :intake ORDER BY ef.entry_id, f.loose, ef.position
            SQL, ['intake' => $intake->id()]) as $row) {
            $frames[$row->int('entry_id')] = $row->int('frame_id');
        }

        return $frames;
    }

    /**
     * @param array<int, array{int, int}> $places as {@see places()} gave them
     * @param array<int, int>             $order
     */
    public function of(Intake $intake, array $places, array $order): Arrangement
    {
        $frames = [];
        foreach ($places as $frame => [$entry]) {
            $frames[$entry][] = $frame;
        }
        $entries = [];
        foreach ($intake->entries as $entry) {
            $entries[] = new ArrangedEntry(
                $entry->day,
                $entry->words(),
                $frames[$entry->id()] ?? [],
                $entry->intoShoot?->id(),
            );
        }

        return Arrangement::of($entries, $order);
    }

    /**
     * @param array<int, int>             $order
     * @param array<int, array{int, int}> $places as they were until now
     */
    public function keep(Intake $intake, Arrangement $arrangement, array $order, array $places): void
    {
        $this->entities->wrapInTransaction(function () use ($intake, $arrangement, $order, $places): void {
            $stored = [];
            foreach ($intake->entries as $entry) {
                $stored[$entry->id()] = $entry;
            }
            $intake->entries->clear();
            $kept = self::nearest($arrangement, $places);
            foreach ($arrangement->entries as $i => $arranged) {
                $entry = $stored[$kept[$i] ?? 0] ?? null;
                if (null === $entry) {
                    $entry = new Entry($intake, $i + 1, $arranged->day);
                    $this->entities->persist($entry);
                }
                $entry->number = $i + 1;
                if (!Day::areSame($entry->day, $arranged->day)) { // another object of the same day is no change
                    $entry->day = $arranged->day;
                }
                $entry->say($arranged->words);
                $entry->intoShoot = null === $arranged->shoot
                    ? null
                    : $this->entities->find(Shoot::class, $arranged->shoot);
                $intake->entries->add($entry);
            }
            $this->entities->flush();
            $this->keepFrames($intake, $arrangement, $order, $places);
            foreach (array_diff_key($stored, array_flip($kept)) as $gone) {
                $this->entities->remove($gone);
            }
            $this->entities->flush();
        });
    }

    /**
     * Which entry goes on as which: the one that most of its frames lie in already, so that few have to move.
     *
     * @param array<int, array{int, int}> $places
     *
     * @return array<int, int> entries as they are stored, by the arranged entry's index; new ones are missing
     */
    private static function nearest(Arrangement $arrangement, array $places): array
    {
        $shared = [];
        foreach ($arrangement->entries as $i => $arranged) {
            $frames = [];
            foreach ($arranged->frames as $frame) {
                $entry = $places[$frame][0] ?? 0;
                $frames[$entry] = ($frames[$entry] ?? 0) + 1;
            }
            unset($frames[0]);
            foreach ($frames as $entry => $count) {
                $shared[] = [-$count, $i, $entry];
            }
        }
        sort($shared);
        $nearest = $taken = [];
        foreach ($shared as [, $i, $entry]) {
            if (!isset($nearest[$i]) && !isset($taken[$entry])) {
                $nearest[$i] = $entry;
                $taken[$entry] = true;
            }
        }

        return $nearest;
    }

    /**
     * @param array<int, int>             $order
     * @param array<int, array{int, int}> $was
     */
    private function keepFrames(Intake $intake, Arrangement $arrangement, array $order, array $was): void
    {
        $moved = $added = [];
        foreach (array_values($intake->entries->toArray()) as $i => $entry) {
            foreach ($arrangement->entries[$i]->frames as $frame) {
                $row = ['entry' => $entry->id(), 'frame' => $frame, 'position' => $order[$frame]];
                if (!isset($was[$frame])) {
                    $added[] = $row;
                } elseif ($was[$frame] !== [$row['entry'], $row['position']]) {
                    $moved[] = $row + ['was' => $was[$frame][0]];
                }
            }
        }
        $this->jsonRows->execute(
            'UPDATE entry_frame ef SET entry_id = r.entry, position = r.position
                FROM jsonb_to_recordset(CAST(:rows AS jsonb)) AS r(entry int, frame bigint, position int, was int)
                WHERE ef.frame_id = r.frame AND ef.entry_id = r.was',
            $moved,
        );
        $this->jsonRows->execute(
            'INSERT INTO entry_frame (entry_id, frame_id, position) SELECT entry, frame, position
                FROM jsonb_to_recordset(CAST(:rows AS jsonb)) AS r(entry int, frame bigint, position int)',
            $added,
        );
        $gone = array_diff_key($was, $arrangement->numbers());
        if ([] !== $gone) {
            $this->database->executeStatement(
                'DELETE FROM entry_frame ef USING entry e WHERE e.id = ef.entry_id AND e.intake_id = :intake
                    AND ef.frame_id IN (SELECT id FROM jsonb_to_recordset(CAST(:gone AS jsonb)) AS r(id bigint))',
                [
                    'intake' => $intake->id(),
                    'gone' => json_encode(
                        array_map(static fn (int $id): array => ['id' => $id], array_keys($gone)),
                        \JSON_THROW_ON_ERROR,
                    ),
                ],
            );
        }
    }
}
