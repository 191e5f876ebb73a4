<?php

declare(strict_types=1);

namespace Velvet\Server\Metadata;

use Doctrine\DBAL\Connection;
use Doctrine\ORM\EntityManagerInterface;
use Psr\Clock\ClockInterface;
use Psr\Log\LoggerInterface;
use Velvet\Core\Bytes\Digest;
use Velvet\Core\Bytes\FileUnreadable;
use Velvet\Core\Copy\DriveFull;
use Velvet\Core\Copy\DriveGone;
use Velvet\Core\Copy\Ground;
use Velvet\Core\Copy\NameTaken;
use Velvet\Core\Copy\TransferFailure;
use Velvet\Core\Drive\DriveTable;
use Velvet\Core\Filed\CopyStanding;
use Velvet\Core\Filed\FiledWriting;
use Velvet\Core\Metadata\History;
use Velvet\Core\Metadata\MetadataRefused;
use Velvet\Server\Intakes\Halt;
use Velvet\Server\Intakes\Halts;
use Velvet\Server\Intakes\Sweeping;
use Velvet\Server\Ledger\Ledger;
use Velvet\Server\Sheets\Sheets;
use Velvet\Server\Store\FiledCopies;
use Velvet\Server\Store\Intake;
use Velvet\Server\Store\Lock;
use Velvet\Server\Store\Locks;
use Velvet\Server\Store\Row;
use Velvet\Server\Store\Rows;

/**
 * Writes what frames say into the copies of their files. The digest of the new content is set down before it takes its
 * place, so that after a crash it is known which of the copies is already new. What fails leaves the file as it was,
 * with the reason.
 */
final readonly class MetadataWriting
{
    private const CANDIDATES = 20;
    /** How often a file is tried whose drive refuses it, before that is set down. */
    private const MOST_TRIES = 3;
    /** What waits and can be written now: a raw file that its DNG will take the place of waits for that. */
    private const WAITS = "f.metadata_state = 'waiting' AND f.outside IS NULL AND NOT (f.dng_state IN ('waiting', 'leaving', 'returning') AND f.dng_choice <> 'beside')";

    public function __construct(
        private Connection $database,
        private EntityManagerInterface $entities,
        private Rows $rows,
        private Locks $locks,
        private FiledWriting $writing,
        private FrameSays $says,
        private OutsideChanges $outside,
        private Ledger $ledger,
        private Halts $halts,
        private LoggerInterface $logger,
        private Sheets $sheets,
        private ClockInterface $clock,
        private FiledCopies $copies,
        private DriveTable $drives,
    ) {
    }

    /**
     * Writes into the copies of one file that an intake filed. @return bool|Halt false where nothing waits for it; a
     * halt where the intake cannot go on.
     */
    public function next(Intake $intake): bool|Halt
    {
        $waiting = $this->rows->all(
            "SELECT f.id FROM filed_file f JOIN transfer t ON t.filed_file_id IN (f.id, f.made_from) AND t.intake_id = :intake AND t.state = 'filed' WHERE ".self::WAITS.' ORDER BY f.id LIMIT '.self::CANDIDATES,
            ['intake' => $intake->id()],
        );

        return $this->first($waiting, $intake);
    }

    /**
     * Writes into the copies of one file whose intake is over. @return bool false where nothing more can be done now.
     */
    public function nextAnywhere(): bool
    {
        $after = 0;
        do {
            $waiting = $this->rows->all(
                'SELECT f.id FROM filed_file f JOIN intake i ON i.id = f.intake_id WHERE f.id > :after AND '.self::WAITS." AND i.state IN ('done', 'stopped') ORDER BY f.id LIMIT ".self::CANDIDATES,
                ['after' => $after],
            );
            if (true === $this->first($waiting, null)) {
                return true;
            }
            $after = [] === $waiting ? 0 : $waiting[\count($waiting) - 1]->int('id');
        } while ($after > 0); // those of drives that are away are passed over

        return false;
    }

    /** @param list<Row> $waiting */
    private function first(array $waiting, ?Intake $intake): bool|Halt
    {
        foreach ($waiting as $candidate) {
            $id = $candidate->int('id');
            if (!$this->locks->isTaken(Lock::FiledFile, $id)) {
                continue; // another worker is at it
            }
            try {
                $row = $this->rows->first(Holder::FILE.' WHERE f.id = :id AND '.self::WAITS, ['id' => $id]);
                if (null === $row) {
                    return true;
                }
                if ($this->write($intake, $row)) {
                    return true;
                }
            } catch (MetadataRefused $e) {
                $this->refused($id, $e->getMessage());

                return true;
            } catch (TransferFailure $e) {
                if (null === $intake && ($e instanceof DriveGone || $e instanceof DriveFull)) {
                    continue; // it waits until there is room, or the drive is there again
                }
                $halt = null === $intake ? null : $this->halt($intake, $id, $e);
                if (null !== $halt) {
                    return $halt;
                }
                if ((!$e instanceof NameTaken || !$this->outside->lookAtFile($id)) && !$this->isHalfWay($id, $e)) {
                    $this->refused($id, $e->getMessage());
                }

                return true;
            } finally {
                $this->locks->release(Lock::FiledFile, $id);
            }
        }

        return false;
    }

    private function halt(Intake $intake, int $file, TransferFailure $e): ?Halt
    {
        $card = $this->rows->one(
            'SELECT t.card_id, c.root, c.label FROM transfer t JOIN card c ON c.id = t.card_id
                JOIN filed_file f ON t.filed_file_id IN (f.id, f.made_from) WHERE f.id = :file
                ORDER BY t.id DESC LIMIT 1',
            ['file' => $file],
        );

        return $this->halts->missing($intake, $card) ?? ($e instanceof DriveFull || $e instanceof DriveGone ? new Halt($e->getMessage()) : null);
    }

    /**
     * Whether the new content took its place on some drives and not on others: it is tried again, and after some tries
     * the ledger has what the files are, and the copies that stayed behind are damaged ones. Never is it said that such
     * a file stayed as it was.
     */
    private function isHalfWay(int $id, TransferFailure $e): bool
    {
        $row = $this->rows->one(Holder::FILE.' WHERE f.id = :id', ['id' => $id]);
        $recorded = $row->textOrNull('metadata_digest');
        if (null === $recorded) {
            return false;
        }
        $new = Digest::fromHex($recorded);
        $filedBy = $this->entities->find(Intake::class, $row->int('intake_id')) ?? throw new \LogicException('The intake is gone.');
        $holder = Holder::of($row, $this->sheets->styleOf($filedBy)->metadata->sidecars, $this->drives);
        $roots = array_values(
            array_filter($holder->roots, static fn (string $root): bool => self::holds($root.'/'.$holder->path, $new)),
        );
        if ([] === $roots) {
            $this->database->executeStatement(
                'UPDATE filed_file SET metadata_digest = NULL, metadata_second = NULL, metadata_bytes = NULL
                    WHERE id = :id',
                ['id' => $id],
            );

            return false;
        }
        $tries = $row->int('metadata_tries') + 1;
        $this->database->executeStatement(
            'UPDATE filed_file SET metadata_tries = :tries WHERE id = :id',
            ['tries' => $tries, 'id' => $id],
        );
        if ($tries >= self::MOST_TRIES) {
            $behind = array_values(array_diff($holder->roots, $roots));
            $why = \sprintf(
                '%s has its metadata in “%s”; in “%s” the old file is still there: %s',
                basename($holder->path),
                implode('”, “', $roots),
                implode('”, “', $behind),
                $e->getMessage(),
            );
            $this->written(
                $row,
                $holder,
                $row->intOrNull('metadata_begun') ?? -1,
                $new,
                $row->textOrNull('metadata_second'),
                $row->int('metadata_bytes'),
                $this->clock->now()->getTimestamp(),
                $why,
                $roots,
            );
        }

        return true;
    }

    /**
     * @return bool false where a drive is not connected
     *
     * @throws MetadataRefused
     * @throws TransferFailure
     */
    private function write(?Intake $intake, Row $row): bool
    {
        $filedBy = $intake ?? $this->entities->find(Intake::class, $row->int('intake_id')) ?? throw new \LogicException('The intake is gone.');
        $style = $this->sheets->styleOf($filedBy);
        $holder = Holder::of($row, $style->metadata->sidecars, $this->drives);
        $paths = $holder->paths();
        if ([] === $paths || !$holder->isWhole) {
            if (null === $intake) {
                return false;
            }
            throw DriveGone::from($row->text('root').'/'.$holder->path);
        }
        $grounds = $holder->grounds();
        // editors see by its time that a file changed; what is written while it is filed keeps the time of the shot
        $modifiedAt = null === $intake
            ? $this->clock->now()->getTimestamp()
            : $row->intOrNull('modified_at') ?? $this->clock->now()->getTimestamp();
        $token = \sprintf('%sm%d', Sweeping::token($filedBy->id()), $row->int('id'));
        if (null !== $recorded = $row->textOrNull('metadata_digest')) {
            $this->goOn($row, $holder, Digest::fromHex($recorded), $modifiedAt, $token, $grounds);

            return true;
        }
        $metadata = $this->says->of($row->int('frame_id'), $row);
        $history = History::of(
            null === $intake ? $this->clock->now() : $intake->startedAt ?? $intake->openedAt,
            $row->int('clock'),
        );
        $prepared = null === $holder->digest
            ? $this->writing->prepareSidecar($paths, $modifiedAt, $metadata, $history, $token, $grounds)
            : $this->writing->prepare(
                $holder->kind,
                $paths,
                $holder->digest,
                $modifiedAt,
                $metadata,
                $history,
                $token,
                $grounds,
                $holder->isSidecar ? null : $style->copies->second,
            );
        try {
            $this->database->executeStatement(
                'UPDATE filed_file
                    SET metadata_begun = :wanted, metadata_digest = :digest, metadata_second = :second, metadata_bytes = :bytes
                    WHERE id = :id',
                [
                    'wanted' => $row->int('metadata_wanted'),
                    'digest' => $prepared->new->content->hex,
                    'second' => $prepared->new->labelled()[1] ?? null,
                    'bytes' => $prepared->bytes,
                    'id' => $row->int('id'),
                ],
            );
            $prepared->takePlace();
        } catch (NameTaken $e) {
            // nothing took its place: what is there is not what the ledger has
            $this->database->executeStatement(
                'UPDATE filed_file SET metadata_digest = NULL, metadata_second = NULL, metadata_bytes = NULL
                    WHERE id = :id',
                ['id' => $row->int('id')],
            );
            throw $e;
        } finally {
            $prepared->discard();
        }
        $this->written(
            $row,
            $holder,
            $row->int('metadata_wanted'),
            $prepared->new->content,
            $prepared->new->labelled()[1] ?? null,
            $prepared->bytes,
            $modifiedAt,
            implode(' ', $prepared->notes),
        );

        return true;
    }

    /**
     * After a crash: copies that have the old content get the new one from a copy that has it; where none has, all
     * begins anew.
     *
     * @param array<string, Ground> $grounds
     *
     * @throws TransferFailure
     */
    private function goOn(Row $row, Holder $holder, Digest $new, int $modifiedAt, string $token, array $grounds): void
    {
        $paths = $holder->paths();
        $isNew = array_map(static fn (string $path): bool => self::holds($path, $new), $paths);
        $from = array_search(true, $isNew, true);
        if (false === $from) {
            $this->database->executeStatement(
                'UPDATE filed_file SET metadata_digest = NULL, metadata_bytes = NULL WHERE id = :id',
                ['id' => $row->int('id')],
            );

            return;
        }
        foreach ($paths as $i => $path) {
            if (!$isNew[$i]) {
                $this->writing->handOver(
                    $paths[$from],
                    $path,
                    $holder->digest,
                    $new,
                    $modifiedAt,
                    $token,
                    $grounds[$path] ?? null,
                );
            }
        }
        $this->written(
            $row,
            $holder,
            $row->intOrNull('metadata_begun') ?? -1,
            $new,
            $row->textOrNull('metadata_second'),
            $row->int('metadata_bytes'),
            $modifiedAt,
            '',
        );
    }

    /**
     * @param int               $wanted which of the things that were asked for it is
     * @param list<string>|null $roots  the places that have it; null: all
     */
    private function written(
        Row $row,
        Holder $holder,
        int $wanted,
        Digest $new,
        ?string $second,
        int $bytes,
        int $modifiedAt,
        string $note,
        ?array $roots = null,
    ): void {
        $roots ??= $holder->roots;
        $this->database->transactional(function () use ($row, $holder, $wanted, $new, $second, $bytes, $modifiedAt, $note, $roots): void {
            $id = $row->int('id');
            if ($holder->isSidecar) {
                $this->database->executeStatement(
                    'UPDATE filed_file
                        SET sidecar_path = :path, sidecar_digest = :digest, sidecar_bytes = :bytes, sidecar_modified_at = :modified
                        WHERE id = :id',
                    [
                        'path' => $holder->path,
                        'digest' => $new->hex,
                        'bytes' => $bytes,
                        'modified' => $modifiedAt,
                        'id' => $id,
                    ],
                );
            } else {
                $this->database->executeStatement(
                    'UPDATE filed_file
                        SET digest_now = :digest, second_now = :second, bytes_now = :bytes, modified_at = :modified
                        WHERE id = :id',
                    [
                        'digest' => $new->hex,
                        'second' => $second,
                        'bytes' => $bytes,
                        'modified' => $modifiedAt,
                        'id' => $id,
                    ],
                );
                $this->copies->allVerified($id, $row->int('shelf_id'), $roots, $holder->path, $new, $bytes);
                foreach (array_diff($holder->roots, $roots) as $behind) {
                    $this->copies->foundAt($id, $row->int('shelf_id'), $behind, CopyStanding::Changed);
                }
            }
            // what was asked for while this was written is still to be done
            $this->database->executeStatement(
                "UPDATE filed_file
                    SET metadata_state = CASE WHEN metadata_wanted = :wanted THEN 'written' ELSE 'waiting' END, metadata_note = :note, metadata_digest = NULL, metadata_second = NULL, metadata_bytes = NULL, metadata_tries = 0
                    WHERE id = :id",
                ['wanted' => $wanted, 'note' => '' === $note ? null : $note, 'id' => $id],
            );
            $this->ledger->write($holder->isSidecar ? 'sidecar_written' : 'metadata_written', [
                'file' => $id, 'intake' => $row->int('intake_id'), 'from' => $row->text('original_path'),
                'to' => $holder->path, 'places' => $roots,
                'received' => Digest::fromHex($row->text('digest'))->labelled(),
                'before' => $holder->digest?->labelled(), 'digest' => $new->labelled(),
            ]);
        });
    }

    private function refused(int $id, string $why): void
    {
        $row = $this->rows->one(
            'SELECT intake_id, original_path, path, digest_now, sidecar_digest FROM filed_file WHERE id = :id',
            ['id' => $id],
        );
        $isFirst = null === $row->textOrNull('digest_now') && null === $row->textOrNull('sidecar_digest');
        $sentence = \sprintf(
            $isFirst ? '%s was filed as it was received, without metadata: %s.' : '%s stays as it was: %s.',
            basename($row->text($isFirst ? 'original_path' : 'path')),
            rtrim($why, '.'),
        );
        $this->database->transactional(function () use ($id, $row, $sentence): void {
            $this->database->executeStatement(
                "UPDATE filed_file SET metadata_state = 'refused', metadata_note = :why WHERE id = :id",
                ['why' => $sentence, 'id' => $id],
            );
            $this->ledger->write(
                'metadata_refused',
                [
                    'file' => $id,
                    'intake' => $row->int('intake_id'),
                    'from' => $row->text('original_path'),
                    'why' => $sentence,
                ],
            );
        });
        $this->logger->warning('Metadata not written: {why}', ['why' => $sentence]);
    }

    /** Whether a file is there with this content. */
    public static function holds(string $path, Digest $digest): bool
    {
        try {
            return is_file($path) && Digest::ofFile($path)->equals($digest);
        } catch (FileUnreadable) {
            return false;
        }
    }
}
