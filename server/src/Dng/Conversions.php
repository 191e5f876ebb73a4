<?php

declare(strict_types=1);

namespace Velvet\Server\Dng;

use Doctrine\DBAL\Connection;
use Doctrine\ORM\EntityManagerInterface;
use Psr\Clock\ClockInterface;
use Psr\Log\LoggerInterface;
use Symfony\Component\DependencyInjection\Attribute\Autowire;
use Velvet\Core\Bytes\Digest;
use Velvet\Core\Bytes\Digests;
use Velvet\Core\Bytes\FileBytes;
use Velvet\Core\Bytes\FileUnreadable;
use Velvet\Core\Bytes\Fingerprint;
use Velvet\Core\Copy\DriveGone;
use Velvet\Core\Copy\FileToCopy;
use Velvet\Core\Copy\NameTaken;
use Velvet\Core\Copy\SyncedFolder;
use Velvet\Core\Copy\TransferFailure;
use Velvet\Core\Copy\VerifiedCopy;
use Velvet\Core\Dng\DngRefused;
use Velvet\Core\Dng\EmbeddedOriginal;
use Velvet\Core\Drive\DriveTable;
use Velvet\Core\Style\DngChoice;
use Velvet\Server\Feed\Happenings;
use Velvet\Server\Intakes\Halt;
use Velvet\Server\Intakes\Halts;
use Velvet\Server\Intakes\Sweeping;
use Velvet\Server\Ledger\FiledPlaces;
use Velvet\Server\Ledger\Ledger;
use Velvet\Server\Metadata\Holder;
use Velvet\Server\Metadata\MetadataWriting;
use Velvet\Server\Sheets\Sheets;
use Velvet\Server\Store\FiledCopies;
use Velvet\Server\Store\Intake;
use Velvet\Server\Store\Lock;
use Velvet\Server\Store\Locks;
use Velvet\Server\Store\Row;
use Velvet\Server\Store\Rows;

/**
 * Converts filed raw files to DNG while other work goes on: a child process for each makes and proves the DNG in a
 * folder of its own, from where it is filed as any file is, verified in every place. Only then the raw file's copies
 * go, where they are to. What fails leaves the raw file as it was, with the reason. Begun again after a crash it goes
 * on where it was.
 */
final class Conversions
{
    private const CANDIDATES = 50;
    private const TO_DO = "('waiting', 'leaving', 'returning')";
    /** Whether a file is to be written into because its frame says something. */
    private const METADATA = "CASE WHEN f.clock <> 0 OR EXISTS (SELECT FROM filed_frame r WHERE r.id = f.frame_id AND (r.says <> '{}' OR r.rating IS NOT NULL OR EXISTS (SELECT FROM frame_keyword k WHERE k.frame_id = r.id))) THEN 'waiting' ELSE 'none' END";

    /**
     * @var array<int, array{FencedConversion, int}> by the file's id: the conversion under way and the core that it has
     */
    private array $running = [];
    private bool $awaitsCore = false;

    public function __construct(
        private readonly Connection $database,
        private readonly EntityManagerInterface $entities,
        private readonly Rows $rows,
        private readonly Locks $locks,
        private readonly VerifiedCopy $copy,
        private readonly Halts $halts,
        private readonly Sheets $sheets,
        private readonly Ledger $ledger,
        private readonly Happenings $happenings,
        private readonly LoggerInterface $logger,
        private readonly ClockInterface $clock,
        private readonly FiledCopies $copies,
        private readonly DriveTable $drives,
        #[Autowire('%kernel.project_dir%')]
        private readonly string $project,
        private readonly string $home,
    ) {
    }

    /**
     * Files what is ready, and begins what waits as long as there are cores for it. Never waits itself.
     *
     * @param Intake|null $intake null: files of intakes that are over
     *
     * @return bool|Halt whether there was something to do; a halt where the intake cannot go on
     */
    public function step(?Intake $intake): bool|Halt
    {
        $did = false;
        foreach ($this->running as $id => [$conversion]) {
            if (!$conversion->runs()) {
                $outcome = $this->attempt($intake, $id, function () use ($id, $conversion): bool {
                    $this->file(
                        $this->row($id) ?? throw new \LogicException('The file is gone.'),
                        $conversion->outcome(),
                    );

                    return true;
                });
                $this->end($id);
                if ($outcome instanceof Halt) {
                    return $outcome;
                }
                $did = true;
            }
        }
        $this->awaitsCore = false;
        $after = 0;
        do {
            $page = $this->candidates($intake, $after);
            foreach ($page as $candidate) {
                $after = $candidate->int('id');
                $outcome = isset($this->running[$after])
                    ? false
                    : $this->take($intake, $after, 'waiting' === $candidate->text('dng_state'));
                if ($outcome instanceof Halt) {
                    return $outcome;
                }
                $did = $did || $outcome;
            }
        } while (!$did && !$this->areUnderWay() && self::CANDIDATES === \count($page)); // those of drives that are away are passed over

        return $did;
    }

    /** @return bool|Halt whether something was done or begun for a file @phpstan-impure */
    private function take(?Intake $intake, int $id, bool $needsCore): bool|Halt
    {
        $core = !$needsCore || $this->awaitsCore ? null : $this->core();
        if ($needsCore && null === $core) {
            $this->awaitsCore = true;

            return false;
        }
        $isMine = $this->locks->isTaken(Lock::FiledFile, $id);
        $outcome = !$isMine ? false : $this->attempt($intake, $id, function () use ($id, $core): bool {
            $row = $this->row($id);
            if (null !== $row && !FiledPlaces::of($row, $this->drives)->areConnected()) {
                throw DriveGone::from($row->text('root').'/'.$row->text('path'));
            }

            return null !== $row && match ($row->text('dng_state')) {
                'waiting' => null !== $core && $this->begin($id, $row, $core),
                'leaving' => $this->leave($row),
                default => $this->takeOut($row),
            };
        });
        if (!isset($this->running[$id])) {
            if (null !== $core) {
                $this->locks->release(Lock::Core, $core);
            }
            if ($isMine) {
                $this->locks->release(Lock::FiledFile, $id);
            }
        }

        return $outcome;
    }

    /** Whether there is something to wait for: a conversion, or a core for one. */
    public function areUnderWay(): bool
    {
        return [] !== $this->running || $this->awaitsCore;
    }

    /** Ends what is under way; it is begun again some other time. */
    public function stop(): void
    {
        foreach ($this->running as $id => [$conversion]) {
            $conversion->stop();
            $this->end($id);
        }
    }

    /** @return list<Row> */
    private function candidates(?Intake $intake, int $after): array
    {
        $of = null === $intake
            ? "JOIN intake i ON i.id = f.intake_id AND i.state IN ('done', 'stopped')"
            : "JOIN transfer t ON t.filed_file_id = f.id AND t.intake_id = :intake AND t.state = 'filed'";

        return $this->rows->all(
            'SELECT f.id, f.dng_state FROM filed_file f '.$of.' WHERE f.id > :after AND f.dng_state IN '.self::TO_DO.' ORDER BY f.id LIMIT '.self::CANDIDATES,
            ['after' => $after] + (null === $intake ? [] : ['intake' => $intake->id()]),
        );
    }

    private function row(int $id): ?Row
    {
        return $this->rows->first(Holder::FILE.' WHERE f.id = :id AND f.dng_state IN '.self::TO_DO, ['id' => $id]);
    }

    /**
     * @param \Closure(): bool $do
     *
     * @return bool|Halt whether something was done
     */
    private function attempt(?Intake $intake, int $id, \Closure $do): bool|Halt
    {
        try {
            return $do();
        } catch (DngRefused|TransferFailure $e) {
            $card = null === $intake || $e instanceof DngRefused
                ? null
                : $this->rows->first(
                    'SELECT t.card_id, c.root, c.label FROM transfer t JOIN card c ON c.id = t.card_id
                        WHERE t.filed_file_id = :file ORDER BY t.id DESC LIMIT 1',
                    ['file' => $id],
                );
            $halt = null === $card || null === $intake ? null : $this->halts->missing($intake, $card);
            if (null !== $halt) {
                return $halt;
            }
            if ($e instanceof DriveGone) { // it waits until the drive is there again
                return null === $intake ? false : new Halt($e->getMessage());
            }
            $this->refused($id, $e instanceof NameTaken ? 'another file has the name' : $e->getMessage());

            return true;
        }
    }

    /** @throws DngRefused */
    private function begin(int $id, Row $row, int $core): bool
    {
        $source = $this->source($row);
        if (null !== $row->textOrNull('outside')) {
            throw DngRefused::unsettled();
        }
        $this->clear($id);
        $conversion = FencedConversion::ofRaw($this->project);
        $conversion->start(
            $source,
            $this->scratch($id),
            basename($row->text('original_path')),
            DngChoice::Embed === self::choice($row),
        );
        $this->running[$id] = [$conversion, $core];
        $this->tell($row);

        return true;
    }

    /**
     * @param array{bytes_before: int, bytes_after: int, samples: string, digest: string}|string $outcome
     *
     * @throws DngRefused
     * @throws TransferFailure
     */
    private function file(Row $row, array|string $outcome): void
    {
        if (\is_string($outcome)) {
            throw DngRefused::said($outcome);
        }
        $style = $this->sheets->styleOf($this->filedBy($row));
        $path = DngChoice::nameOf($row->text('path'), $style->extension);
        $this->mustBeFree($row, $path);
        $digests = $this->place(
            $row,
            $this->scratch($row->int('id')),
            $path,
            $outcome['bytes_after'],
            Digest::fromHex($outcome['digest']),
        );
        $roots = FiledPlaces::of($row, $this->drives)->roots;
        $fingerprint = Fingerprint::of(FileBytes::open($this->scratch($row->int('id'))))->hex;
        $this->database->transactional(function () use ($row, $outcome, $path, $digests, $fingerprint, $roots): void {
            $id = $row->int('id');
            $choice = self::choice($row);
            $made = [
                'id' => $id,
                'path' => $path,
                'digest' => $digests->content->hex,
                'second' => $digests->labelled()[1] ?? null,
                'bytes' => $outcome['bytes_after'],
                'samples' => $outcome['samples'],
            ];
            if ($choice->keepsRaw()) {
                $dng = $this->rows->one('INSERT INTO filed_file (frame_id, shelf_id, intake_id, path, kind, bytes, fingerprint, digest, second_digest, original_path, filed_at, modified_at, holds_metadata, of_file, clock, metadata_state, samples, made_from) '
                    ."SELECT frame_id, shelf_id, intake_id, :path, 'dng', :bytes, :fingerprint, :digest, :second, original_path, :at, modified_at, true, of_file, clock, ".self::METADATA.', :samples, id FROM filed_file f WHERE id = :id RETURNING id', $made + [
                        'fingerprint' => $fingerprint,
                        'at' => $this->clock->now()->format('c'),
                    ])->int('id');
                $this->database->executeStatement(
                    "UPDATE filed_file SET dng_state = 'made' WHERE id = :id",
                    ['id' => $id],
                );
            } else {
                // from now on the file is its DNG: what was received is remembered by its digest
                $dng = $id;
                $this->database->executeStatement(
                    "UPDATE filed_file f SET raw_path = path, path = :path, kind = 'dng', digest_now = :digest, second_now = :second, bytes_now = :bytes, samples = :samples, dng_state = 'leaving', holds_metadata = true, metadata_state = ".self::METADATA.', metadata_wanted = metadata_wanted + 1, metadata_note = NULL, metadata_digest = NULL, metadata_second = NULL, metadata_bytes = NULL, outside = NULL WHERE id = :id',
                    $made,
                );
            }
            $this->copies->allVerified(
                $dng,
                $row->int('shelf_id'),
                $roots,
                $path,
                $digests->content,
                $outcome['bytes_after'],
            );
            $this->ledger->write('dng_made', [
                'file' => $id, 'intake' => $row->int('intake_id'), 'from' => $row->text('original_path'),
                'raw' => $row->text('path'), 'to' => $path, 'instead' => !$choice->keepsRaw(),
                'embedded' => DngChoice::Embed === $choice,
                'received' => Digest::fromHex($row->text('digest'))->labelled(),
                'digest' => $digests->content->labelled(), 'samples' => 'md5:'.$outcome['samples'],
            ]);
        });
        $left = $this->row($row->int('id'));
        if (null !== $left) {
            $this->leave($left);
        }
        $this->tell($row);
    }

    /**
     * The DNG is proven and filed in every place: the raw file's copies go, where they are what was received. Those of
     * drives that are away go later.
     */
    private function leave(Row $row): bool
    {
        $received = Digest::fromHex($row->text('digest'));
        $gone = [];
        foreach (FiledPlaces::of($row, $this->drives)->roots as $root) {
            $raw = $root.'/'.$row->text('raw_path');
            // nothing goes unless its DNG is there, as the ledger has it
            if (
                MetadataWriting::holds($raw, $received)
                && MetadataWriting::holds($root.'/'.$row->text('path'), Digest::fromHex($row->text('digest_now')))
                && @unlink($raw)
            ) {
                SyncedFolder::sync(\dirname($raw));
                $gone[] = $raw;
            }
        }
        $this->database->transactional(function () use ($row, $gone, $received): void {
            $this->database->executeStatement(
                "UPDATE filed_file SET dng_state = 'made' WHERE id = :id",
                ['id' => $row->int('id')],
            );
            $this->ledger->write(
                'raw_left',
                [
                    'file' => $row->int('id'),
                    'intake' => $row->int('intake_id'),
                    'from' => $row->text('original_path'),
                    'raw' => $gone,
                    'digest' => $received->labelled(),
                ],
            );
        });

        return true;
    }

    /**
     * The way back: the raw file out of its DNG, which lies beside it then.
     *
     * @throws DngRefused
     * @throws TransferFailure
     */
    private function takeOut(Row $row): bool
    {
        $dng = $this->source($row);
        $id = $row->int('id');
        $raw = $row->textOrNull('raw_path') ?? throw DngRefused::nothingInside();
        $this->mustBeFree($row, $raw);
        try {
            $original = EmbeddedOriginal::in($dng);
        } catch (FileUnreadable $e) {
            throw DngRefused::structure($e->getMessage());
        }
        $this->clear($id);
        $scratch = $this->scratch($id);
        $original->place($scratch, $this->clock->now()->getTimestamp());
        $roots = FiledPlaces::of($row, $this->drives)->roots;
        $bytes = \strlen($original->bytes);
        $digests = $this->place($row, $scratch, $raw, $bytes, Digest::fromHex($row->text('digest')));
        $this->database->transactional(function () use ($row, $id, $raw, $digests, $roots, $bytes): void {
            $dng = ['id' => $id, 'path' => $row->text('path')];
            $this->database->executeStatement(
                "UPDATE filed_file
                    SET path = :raw, kind = 'raw', raw_path = NULL, dng_state = 'made', dng_choice = 'beside'
                    WHERE id = :id",
                ['raw' => $raw, 'id' => $id],
            );
            $beside = $this->rows->one(<<<'SQL'
                INSERT INTO filed_file (frame_id, shelf_id, intake_id, path, kind, bytes, fingerprint, digest, second_digest, original_path, filed_at, modified_at, holds_metadata, of_file, clock,
                    metadata_state, metadata_wanted, metadata_begun, metadata_note, metadata_digest, metadata_second, metadata_bytes, outside, own_taken, samples, made_from)
                SELECT frame_id, shelf_id, intake_id, :path, 'dng', bytes_now, fingerprint, digest_now, second_now,
                original_path, filed_at, modified_at, true, of_file, clock,
                    metadata_state, metadata_wanted, metadata_begun, metadata_note, metadata_digest, metadata_second, metadata_bytes, outside, own_taken, samples, id FROM filed_file WHERE id = :id RETURNING id
                SQL, $dng)->int('id');
            $this->copies->become($id, $beside);
            $this->copies->allVerified($id, $row->int('shelf_id'), $roots, $raw, $digests->content, $bytes);
            $this->database->executeStatement(
                'UPDATE filed_file f
                    SET digest_now = NULL, second_now = NULL, bytes_now = NULL, samples = NULL, outside = NULL, metadata_note = NULL, metadata_digest = NULL, metadata_second = NULL, metadata_bytes = NULL, metadata_state = '.self::METADATA.'
                    WHERE id = :id',
                ['id' => $id],
            );
            $this->ledger->write(
                'raw_taken_out',
                [
                    'file' => $id,
                    'intake' => $row->int('intake_id'),
                    'from' => $row->text('original_path'),
                    'dng' => $row->text('path'),
                    'to' => $raw,
                    'digest' => $digests->content->labelled(),
                ],
            );
        });
        $this->clear($id);
        $this->tell($row);

        return true;
    }

    /**
     * Files what lies in the scratch folder on every drive.
     *
     * @throws TransferFailure
     */
    private function place(Row $row, string $from, string $path, int $bytes, Digest $expected): Digests
    {
        $places = FiledPlaces::of($row, $this->drives);
        $targets = array_map(static fn (string $root): string => $root.'/'.$path, $places->roots);
        $grounds = $places->drives->grounds(array_combine($places->roots, $targets));
        $filedBy = $this->filedBy($row);

        return $this->copy->copy(new FileToCopy(
            $from, $bytes, $row->intOrNull('modified_at') ?? $this->clock->now()->getTimestamp(), $targets,
            \sprintf('%sd%d', Sweeping::token($filedBy->id()), $row->int('id')),
            $this->sheets->styleOf($filedBy)->copies->second, false, $grounds, $expected,
        ));
    }

    private function filedBy(Row $row): Intake
    {
        return $this->entities->find(Intake::class, $row->int('intake_id')) ?? throw new \LogicException('The intake is gone.');
    }

    /** @throws NameTaken when the ledger has another file of that name; it may lie on a drive that is away */
    private function mustBeFree(Row $row, string $path): void
    {
        if (null !== $this->rows->first('SELECT id FROM filed_file WHERE shelf_id = :shelf AND path = :path', ['shelf' => $row->int('shelf_id'), 'path' => $path])) {
            throw NameTaken::by($path);
        }
    }

    private function refused(int $id, string $why): void
    {
        $row = $this->rows->one(
            'SELECT intake_id, original_path, path, dng_state, raw_path, frame_id FROM filed_file WHERE id = :id',
            ['id' => $id],
        );
        $sentence = \sprintf(
            'returning' === $row->text('dng_state')
                ? 'The raw file was not taken out of %s, which stays as it is: %s.'
                : '%s was not converted: %s. It stays filed as it is, and can be converted later from its shoot.',
            basename($row->text('path')),
            rtrim($why, '.'),
        );
        $this->database->transactional(function () use ($id, $row, $sentence): void {
            $this->database->executeStatement(
                "UPDATE filed_file SET dng_state = 'refused', dng_note = :why WHERE id = :id",
                ['why' => $sentence, 'id' => $id],
            );
            $this->ledger->write(
                'dng_refused',
                [
                    'file' => $id,
                    'intake' => $row->int('intake_id'),
                    'from' => $row->text('original_path'),
                    'why' => $sentence,
                ],
            );
        });
        $this->logger->warning('Not converted: {why}', ['why' => $sentence]);
    }

    /**
     * A copy that is as the ledger has it, by its size.
     *
     * @throws DngRefused
     */
    private function source(Row $row): string
    {
        $bytes = $row->intOrNull('bytes_now') ?? $row->int('bytes');
        foreach (FiledPlaces::of($row, $this->drives)->connected as $root) {
            $path = $root.'/'.$row->text('path');
            if (@filesize($path) === $bytes) {
                return $path;
            }
        }
        throw DngRefused::changed();
    }

    /** A core of this machine that no worker converts on; null where there is none. */
    private function core(): ?int
    {
        $mine = array_column($this->running, 1);
        for ($n = 0; $n < FencedConversion::cores(); ++$n) {
            $core = crc32(gethostname().' '.$n) & 0x7FFFFFFF;
            if (!\in_array($core, $mine, true) && $this->locks->isTaken(Lock::Core, $core)) {
                return $core;
            }
        }

        return null;
    }

    private function end(int $id): void
    {
        $core = $this->running[$id][1];
        unset($this->running[$id]);
        $this->clear($id);
        $this->locks->release(Lock::Core, $core);
        $this->locks->release(Lock::FiledFile, $id);
    }

    private function scratch(int $id): string
    {
        return $this->home.'/dng/'.$id.'/made';
    }

    private function clear(int $id): void
    {
        $folder = \dirname($this->scratch($id));
        $names = is_dir($folder) ? @scandir($folder) : false;
        array_map(
            static fn (string $name): bool => @unlink($folder.'/'.$name),
            array_diff(false === $names ? [] : $names, ['.', '..']),
        );
        @rmdir($folder);
    }

    private function tell(Row $row): void
    {
        $this->happenings->tell('dng', ['intake' => $row->int('intake_id')]);
    }

    private static function choice(Row $row): DngChoice
    {
        return DngChoice::from($row->text('dng_choice'));
    }
}
