<?php

declare(strict_types=1);

namespace Velvet\Server\Intakes;

use Doctrine\DBAL\Connection;
use Psr\Log\LoggerInterface;
use Velvet\Core\Card\FileKind;
use Velvet\Core\Duplicate\Digest;
use Velvet\Core\Metadata\FiledWriting;
use Velvet\Core\Metadata\History;
use Velvet\Core\Metadata\JpegFile;
use Velvet\Core\Metadata\Metadata;
use Velvet\Core\Metadata\MetadataRefused;
use Velvet\Core\Metadata\PictureFile;
use Velvet\Core\Metadata\PngFile;
use Velvet\Core\Metadata\SidecarFile;
use Velvet\Core\Metadata\TiffFile;
use Velvet\Core\Transfer\DriveFull;
use Velvet\Core\Transfer\PartFile;
use Velvet\Core\Transfer\SourceUnreadable;
use Velvet\Core\Transfer\TransferFailure;
use Velvet\Server\Entity\Intake;
use Velvet\Server\Ledger\Ledger;
use Velvet\Server\Row;
use Velvet\Server\Rows;
use Velvet\Server\Sheets\Sheets;

/**
 * Writes what the house style says into copies that are filed. The digest of the new content is set down before it takes its place,
 * so that after a crash it is known which of the copies is already new. What fails leaves the file as received, with the reason.
 */
final readonly class MetadataWriting
{
    /** First number of the advisory locks, one for each transfer whose copies are being written. */
    private const LOCK = 8421;
    private const CANDIDATES = 20;

    public function __construct(private Connection $database, private Rows $rows, private FiledWriting $writing, private Ledger $ledger, private Halts $halts, private LoggerInterface $logger, private Sheets $sheets)
    {
    }

    /**
     * What is kept with a transfer for the writing, as JSON.
     *
     * @param int $clock seconds by which the camera's clock was corrected
     */
    public static function toJson(Metadata $metadata, int $clock): string
    {
        return json_encode(['texts' => $metadata->texts, 'keywords' => $metadata->keywords, 'clock' => $clock], \JSON_THROW_ON_ERROR | \JSON_UNESCAPED_UNICODE);
    }

    /** Writes into the copies of one file. @return bool|Halt false where nothing waits for it; a halt where the intake cannot go on */
    public function next(Intake $intake): bool|Halt
    {
        $waiting = $this->rows->all("SELECT id FROM transfer WHERE intake_id = :intake AND state = 'filed' AND metadata_state = 'waiting' ORDER BY id LIMIT ".self::CANDIDATES, ['intake' => $intake->id()]);
        foreach ($waiting as $candidate) {
            $id = $candidate->int('id');
            if (!$this->rows->one('SELECT pg_try_advisory_lock(:lock, :id) AS mine', ['lock' => self::LOCK, 'id' => $id])->bool('mine')) {
                continue; // another worker is at it
            }
            try {
                $row = $this->rows->first(<<<'SQL'
                    SELECT t.*, f.path AS filed, s.root, s.twin_root FROM transfer t JOIN filed_file f ON f.id = t.filed_file_id JOIN shelf s ON s.id = f.shelf_id
                    WHERE t.id = :id AND t.metadata_state = 'waiting'
                    SQL, ['id' => $id]);

                return null === $row || $this->write($intake, $row);
            } catch (MetadataRefused $e) {
                $this->refused($intake, $id, $e->getMessage());

                return true;
            } catch (TransferFailure $e) {
                $card = $this->rows->one('SELECT c.root, c.label FROM transfer t JOIN card c ON c.id = t.card_id WHERE t.id = :id', ['id' => $id]);
                $halt = $this->halts->missing($intake, $card) ?? ($e instanceof DriveFull ? new Halt($e->getMessage()) : null);
                if (null !== $halt) {
                    return $halt;
                }
                $this->refused($intake, $id, $e->getMessage());

                return true;
            } finally {
                $this->database->executeStatement('SELECT pg_advisory_unlock(?, ?)', [self::LOCK, $id]);
            }
        }

        return false;
    }

    /**
     * @throws MetadataRefused
     * @throws TransferFailure
     */
    private function write(Intake $intake, Row $row): bool
    {
        $metadata = self::fromJson($row);
        $clock = $row->json('metadata')['clock'] ?? 0;
        $history = History::of($intake->startedAt ?? $intake->openedAt, \is_int($clock) ? $clock : 0);
        $paths = array_map(static fn (string $root): string => $root.'/'.$row->text('filed'), array_values(array_filter([$row->text('root'), $row->textOrNull('twin_root')], is_string(...))));
        \assert([] !== $paths);
        $devices = $this->devices($intake, $row, $paths);
        $token = \sprintf('%sm%d', Sweeping::token($intake->id()), $row->int('id'));
        $kind = self::kindOf($paths[0], FileKind::from($row->text('kind')));
        if (null === $kind) {
            $this->sidecars($intake, $row, $paths, SidecarFile::fresh($metadata, $history), $token, $devices);

            return true;
        }
        $received = Digest::fromHex($row->text('digest'));
        if (null !== $recorded = $row->textOrNull('metadata_digest')) {
            $this->goOn($intake, $row, $paths, $received, Digest::fromHex($recorded), $token, $devices);

            return true;
        }
        $prepared = $this->writing->prepare($kind, $paths, $received, $row->int('modified_at'), $metadata, $history, $token, $devices, $this->sheets->styleOf($intake)->copies->second);
        try {
            $this->database->executeStatement('UPDATE transfer SET metadata_digest = :digest, metadata_second = :second, metadata_bytes = :bytes WHERE id = :id', ['digest' => $prepared->new->content->hex, 'second' => $prepared->new->labelled()[1] ?? null, 'bytes' => $prepared->bytes, 'id' => $row->int('id')]);
            $prepared->takePlace();
        } finally {
            $prepared->discard();
        }
        $this->written($intake, $row, $prepared->new->content, $prepared->new->labelled()[1] ?? null, $prepared->bytes, implode(' ', $prepared->notes));

        return true;
    }

    /**
     * After a crash: copies that have the old content get the new one from a copy that has it; where none has, all begins anew.
     *
     * @param non-empty-list<string> $paths
     * @param array<string, int>     $devices
     *
     * @throws TransferFailure
     */
    private function goOn(Intake $intake, Row $row, array $paths, Digest $received, Digest $new, string $token, array $devices): void
    {
        $isNew = array_map(static fn (string $path): bool => self::holds($path, $new), $paths);
        $from = array_search(true, $isNew, true);
        if (false === $from) {
            $this->database->executeStatement('UPDATE transfer SET metadata_digest = NULL, metadata_bytes = NULL WHERE id = :id', ['id' => $row->int('id')]);

            return;
        }
        foreach ($paths as $i => $path) {
            if (!$isNew[$i]) {
                $this->writing->handOver($paths[$from], $path, $received, $new, $row->int('modified_at'), $token, $devices[$path] ?? null);
            }
        }
        $this->written($intake, $row, $new, $row->textOrNull('metadata_second'), $row->int('metadata_bytes'), '');
    }

    /**
     * A file that metadata is not written into gets a sidecar beside it on every drive.
     *
     * @param non-empty-list<string> $paths
     * @param array<string, int>     $devices
     *
     * @throws TransferFailure
     */
    private function sidecars(Intake $intake, Row $row, array $paths, string $content, string $token, array $devices): void
    {
        $digest = Digest::ofBytes($content);
        foreach ($paths as $path) {
            $part = PartFile::create(self::sidecarOf($path), $token, $devices[$path] ?? null);
            try {
                $part->write($content);
                $part->sync($row->int('modified_at'));
                $part->place($digest);
            } finally {
                $part->discard();
            }
        }
        $this->database->transactional(function () use ($intake, $row, $digest, $content): void {
            $this->database->executeStatement('UPDATE filed_file SET sidecar_path = :path, sidecar_digest = :digest, sidecar_bytes = :bytes WHERE id = :id', ['path' => self::sidecarOf($row->text('filed')), 'digest' => $digest->hex, 'bytes' => \strlen($content), 'id' => $row->int('filed_file_id')]);
            $this->database->executeStatement("UPDATE transfer SET metadata_state = 'written' WHERE id = :id", ['id' => $row->int('id')]);
            $this->ledger->write('sidecar_written', ['intake' => $intake->id(), 'from' => $row->text('source'), 'to' => self::sidecarOf($row->text('filed')), 'digest' => $digest->labelled()]);
        });
    }

    private function written(Intake $intake, Row $row, Digest $new, ?string $second, int $bytes, string $note): void
    {
        $this->database->transactional(function () use ($intake, $row, $new, $second, $bytes, $note): void {
            $this->database->executeStatement('UPDATE filed_file SET digest_now = :digest, second_now = :second, bytes_now = :bytes WHERE id = :id', ['digest' => $new->hex, 'second' => $second, 'bytes' => $bytes, 'id' => $row->int('filed_file_id')]);
            $this->database->executeStatement("UPDATE transfer SET metadata_state = 'written', metadata_note = :note WHERE id = :id", ['note' => '' === $note ? null : $note, 'id' => $row->int('id')]);
            $this->ledger->write('metadata_written', ['intake' => $intake->id(), 'from' => $row->text('source'), 'to' => $row->text('filed'), 'received' => Digest::fromHex($row->text('digest'))->labelled(), 'digest' => $new->labelled()]);
        });
    }

    private function refused(Intake $intake, int $id, string $why): void
    {
        $row = $this->rows->one('SELECT source FROM transfer WHERE id = :id', ['id' => $id]);
        $sentence = \sprintf('%s was filed as it was received, without metadata: %s.', basename($row->text('source')), rtrim($why, '.'));
        $this->database->transactional(function () use ($intake, $id, $row, $sentence): void {
            $this->database->executeStatement("UPDATE transfer SET metadata_state = 'refused', metadata_note = :why WHERE id = :id", ['why' => $sentence, 'id' => $id]);
            $this->ledger->write('metadata_refused', ['intake' => $intake->id(), 'from' => $row->text('source'), 'why' => $sentence]);
        });
        $this->logger->warning('Metadata not written: {why}', ['why' => $sentence]);
    }

    /** How metadata gets into a file; null where only a sidecar can hold it: a maker's raw file is never written into. */
    private static function kindOf(string $path, FileKind $kind): ?PictureFile
    {
        $head = (string) @file_get_contents($path, false, null, 0, 8);

        return match (true) {
            FileKind::Sidecar === $kind => new SidecarFile(),
            str_starts_with($head, "\xFF\xD8\xFF") => new JpegFile(),
            str_starts_with($head, "\x89PNG") => new PngFile(),
            \in_array($kind, [FileKind::Tiff, FileKind::Dng], true) && \in_array(substr($head, 0, 4), ["II\x2A\0", "MM\0\x2A"], true) => new TiffFile(),
            default => null,
        };
    }

    /** Whether a file is there with this content. */
    public static function holds(string $path, Digest $digest): bool
    {
        try {
            return is_file($path) && Digest::ofFile($path)->equals($digest);
        } catch (SourceUnreadable) {
            return false;
        }
    }

    private static function sidecarOf(string $path): string
    {
        return preg_replace('/\.[^.\/]*$/', '', $path).'.xmp';
    }

    /**
     * @param list<string> $paths
     *
     * @return array<string, int>
     */
    private function devices(Intake $intake, Row $row, array $paths): array
    {
        $drives = $this->halts->drives($intake)->devices;
        $roots = array_values(array_filter([$row->text('root'), $row->textOrNull('twin_root')], is_string(...)));

        return array_filter(array_combine($paths, array_map(static fn (string $root): ?int => $drives[$root] ?? null, $roots)), is_int(...));
    }

    private static function fromJson(Row $row): Metadata
    {
        $document = $row->json('metadata');
        $texts = array_filter(\is_array($document['texts'] ?? null) ? $document['texts'] : [], is_string(...));
        $keywords = $document['keywords'] ?? null;

        return new Metadata(array_combine(array_map(strval(...), array_keys($texts)), $texts), \is_array($keywords) ? array_values(array_filter($keywords, is_string(...))) : null);
    }
}
