<?php

declare(strict_types=1);

namespace Velvet\Server\Work\Dng;

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
use Velvet\Core\Filed\Content;
use Velvet\Core\Filed\DngState;
use Velvet\Core\Filed\FiledFile;
use Velvet\Core\Filed\MadeDng;
use Velvet\Core\Style\DngChoice;
use Velvet\Server\Store\FiledCopies;
use Velvet\Server\Store\FiledFiles;
use Velvet\Server\Store\FiledFrames;
use Velvet\Server\Store\Happenings;
use Velvet\Server\Store\Intake;
use Velvet\Server\Store\Ledger;
use Velvet\Server\Store\Lock;
use Velvet\Server\Store\Locks;
use Velvet\Server\Store\Transaction;
use Velvet\Server\Work\Halts\Halt;
use Velvet\Server\Work\Halts\Halts;
use Velvet\Server\Work\Halts\Sweeping;
use Velvet\Server\Work\Sheets\Sheets;

/**
 * Converts filed raw files to DNG while other work goes on: a child process for each makes and proves the DNG in a
 * folder of its own, from where it is filed as any file is, verified in every place. Only then the raw file's copies
 * go, where they are to. What fails leaves the raw file as it was, with the reason. Begun again after a crash it goes
 * on where it was.
 */
final class Conversions
{
    private const CANDIDATES = 50;
    private const WAIT = 0.5; // seconds
    private const POLL = 10_000; // microseconds between looks at the processes

    /**
     * @var array<int, array{FencedConversion, int}> by the file's id: the conversion under way and the core that it has
     */
    private array $running = [];
    private bool $awaitsCore = false;

    public function __construct(
        private readonly Transaction $transaction,
        private readonly EntityManagerInterface $entities,
        private readonly Locks $locks,
        private readonly VerifiedCopy $copy,
        private readonly Halts $halts,
        private readonly Sheets $sheets,
        private readonly Ledger $ledger,
        private readonly Happenings $happenings,
        private readonly LoggerInterface $logger,
        private readonly ClockInterface $clock,
        private readonly FiledCopies $copies,
        private readonly FiledFiles $files,
        private readonly FiledFrames $frames,
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
                    $this->file($this->files->get($id), $conversion->outcome());

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
            $page = $this->files->toBeConverted($intake?->id(), $after, self::CANDIDATES);
            foreach ($page as $id => $state) {
                $after = $id;
                $outcome = isset($this->running[$id])
                    ? false
                    : $this->take($intake, $id, DngState::Waiting === $state);
                if ($outcome instanceof Halt) {
                    return $outcome;
                }
                $did = $did || $outcome;
            }
            // those of drives that are away are passed over
        } while (!$did && !$this->areUnderWay() && self::CANDIDATES === \count($page));

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
            $file = $this->files->get($id);
            $places = $this->files->places($file);
            if ($file->dngState()->isUnderWay() && !$places->areConnected()) {
                throw DriveGone::from($places->shelf.'/'.$file->path());
            }

            return match ($file->dngState()) {
                DngState::Waiting => null !== $core && $this->begin($file, $core),
                DngState::Leaving => $this->leave($id),
                DngState::Returning => $this->takeOut($file),
                default => false, // another worker did it meanwhile
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

    /**
     * Until one that is under way is over, without asking the database meanwhile; half a second at most, since others
     * may want something.
     */
    public function await(): void
    {
        $until = microtime(true) + self::WAIT;
        while ($this->areUnderWay() && microtime(true) < $until) {
            usleep(self::POLL);
            foreach ($this->running as [$conversion]) {
                if (!$conversion->runs()) {
                    return;
                }
            }
        }
    }

    /** Ends what is under way; it is begun again some other time. */
    public function stop(): void
    {
        foreach ($this->running as $id => [$conversion]) {
            $conversion->stop();
            $this->end($id);
        }
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
            $card = null === $intake || $e instanceof DngRefused ? null : $this->files->card($id);
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
    private function begin(FiledFile $file, int $core): bool
    {
        $source = $this->source($file);
        if (null !== $file->outside()) {
            throw DngRefused::unsettled();
        }
        $id = $file->id();
        $this->clear($id);
        $conversion = FencedConversion::ofRaw($this->project);
        $conversion->start(
            $source,
            $this->scratch($id),
            basename($file->originalPath()),
            DngChoice::Embed === $file->dngChoice(),
        );
        $this->running[$id] = [$conversion, $core];
        $this->tell($file);

        return true;
    }

    /**
     * @param array{bytes_before: int, bytes_after: int, samples: string, digest: string}|string $outcome
     *
     * @throws DngRefused
     * @throws TransferFailure
     */
    private function file(FiledFile $file, array|string $outcome): void
    {
        if (\is_string($outcome)) {
            throw DngRefused::said($outcome);
        }
        $id = $file->id();
        $path = DngChoice::nameOf($file->path(), $this->sheets->styleOf($this->filedBy($file))->extension);
        $this->mustBeFree($file, $path);
        $bytes = $outcome['bytes_after'];
        $digests = $this->place($file, $this->scratch($id), $path, $bytes, Digest::fromHex($outcome['digest']));
        $made = new MadeDng($path, Content::of($digests, $bytes), $outcome['samples']);
        $roots = $this->files->places($file)->roots;
        $fingerprint = Fingerprint::of(FileBytes::open($this->scratch($id)))->hex;
        $this->files->change($id, function (FiledFile $file) use ($id, $made, $fingerprint, $roots): void {
            $choice = $file->dngChoice();
            $raw = $file->path();
            $says = $this->frames->says($file->frame());
            if ($choice->keepsRaw()) {
                $dng = $this->files->add($file->dngMadeBeside($made, $fingerprint, $says, $this->clock->now()));
            } else {
                $file->becameDng($made, $says);
                $dng = $id;
            }
            $content = $made->content;
            $this->copies->allVerified($dng, $file->shelf(), $roots, $made->path, $content->digest, $content->bytes);
            $this->ledger->write('dng_made', [
                'file' => $id, 'intake' => $file->intake(), 'from' => $file->originalPath(),
                'raw' => $raw, 'to' => $made->path, 'instead' => !$choice->keepsRaw(),
                'embedded' => DngChoice::Embed === $choice,
                'received' => $file->received()->digest->labelled(),
                'digest' => $content->digest->labelled(), 'samples' => 'md5:'.$made->samples,
            ]);
        });
        if (DngState::Leaving === $this->files->get($id)->dngState()) {
            $this->leave($id);
        }
        $this->tell($file);
    }

    /**
     * The DNG is proven and filed in every place: the raw file's copies go, where they are what was received. Those of
     * drives that are away go later.
     */
    private function leave(int $id): bool
    {
        $file = $this->files->get($id);
        $received = $file->received()->digest;
        $gone = [];
        foreach ($this->files->places($file)->roots as $root) {
            $raw = $root.'/'.$file->rawPath();
            // nothing goes unless its DNG is there, as the ledger has it
            if (
                $received->isOfFile($raw)
                && $file->content()->digest->isOfFile($root.'/'.$file->path())
                && @unlink($raw)
            ) {
                SyncedFolder::sync(\dirname($raw));
                $gone[] = $raw;
            }
        }
        $this->files->change($id, function (FiledFile $file) use ($id, $gone, $received): void {
            $file->rawLeft();
            $this->ledger->write(
                'raw_left',
                [
                    'file' => $id,
                    'intake' => $file->intake(),
                    'from' => $file->originalPath(),
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
    private function takeOut(FiledFile $file): bool
    {
        $source = $this->source($file);
        $id = $file->id();
        $raw = $file->rawPath() ?? throw DngRefused::nothingInside();
        $this->mustBeFree($file, $raw);
        try {
            $original = EmbeddedOriginal::in($source);
        } catch (FileUnreadable $e) {
            throw DngRefused::structure($e->getMessage());
        }
        $this->clear($id);
        $scratch = $this->scratch($id);
        $original->place($scratch, $this->clock->now()->getTimestamp());
        $roots = $this->files->places($file)->roots;
        $bytes = \strlen($original->bytes);
        $digests = $this->place($file, $scratch, $raw, $bytes, $file->received()->digest);
        $this->transaction->of(function () use ($file, $id, $raw, $digests, $roots, $bytes): void {
            $says = $this->frames->says($file->frame());
            // first it gives its name free, then its DNG takes it
            $dng = $this->files->change($id, static fn (FiledFile $file): FiledFile => $file->rawTakenOut($says));
            $this->copies->become($id, $this->files->add($dng));
            $this->copies->allVerified($id, $file->shelf(), $roots, $raw, $digests->content, $bytes);
            $this->ledger->write(
                'raw_taken_out',
                [
                    'file' => $id,
                    'intake' => $file->intake(),
                    'from' => $file->originalPath(),
                    'dng' => $file->path(),
                    'to' => $raw,
                    'digest' => $digests->content->labelled(),
                ],
            );
        });
        $this->clear($id);
        $this->tell($file);

        return true;
    }

    /**
     * Files what lies in the scratch folder on every drive.
     *
     * @throws TransferFailure
     */
    private function place(FiledFile $file, string $from, string $path, int $bytes, Digest $expected): Digests
    {
        $places = $this->files->places($file);
        $targets = array_map(static fn (string $root): string => $root.'/'.$path, $places->roots);
        $grounds = $places->drives->grounds(array_combine($places->roots, $targets));
        $filedBy = $this->filedBy($file);

        return $this->copy->copy(new FileToCopy(
            $from, $bytes, $file->modifiedAt() ?? $this->clock->now()->getTimestamp(), $targets,
            \sprintf('%sd%d', Sweeping::token($filedBy->id()), $file->id()),
            $this->sheets->styleOf($filedBy)->copies->second, false, $grounds, $expected,
        ));
    }

    private function filedBy(FiledFile $file): Intake
    {
        return $this->entities->find(Intake::class, $file->intake())
            ?? throw new \LogicException('The intake is gone.');
    }

    /** @throws NameTaken when the ledger has another file of that name; it may lie on a drive that is away */
    private function mustBeFree(FiledFile $file, string $path): void
    {
        if ($this->files->isNameGiven($file->shelf(), $path)) {
            throw NameTaken::by($path);
        }
    }

    private function refused(int $id, string $why): void
    {
        $sentence = $this->files->change($id, function (FiledFile $file) use ($id, $why): string {
            $sentence = \sprintf(
                DngState::Returning === $file->dngState()
                    ? 'The raw file was not taken out of %s, which stays as it is: %s.'
                    : '%s was not converted: %s. It stays filed as it is, and can be converted later from its shoot.',
                $file->name(),
                rtrim($why, '.'),
            );
            $file->dngRefused($sentence);
            $this->ledger->write(
                'dng_refused',
                [
                    'file' => $id,
                    'intake' => $file->intake(),
                    'from' => $file->originalPath(),
                    'why' => $sentence,
                ],
            );

            return $sentence;
        });
        $this->logger->warning('Not converted: {why}', ['why' => $sentence]);
    }

    /**
     * A copy that is as the ledger has it, by its size.
     *
     * @throws DngRefused
     */
    private function source(FiledFile $file): string
    {
        foreach ($this->files->places($file)->connected as $root) {
            $path = $root.'/'.$file->path();
            if (@filesize($path) === $file->content()->bytes) {
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

    private function tell(FiledFile $file): void
    {
        $this->happenings->tell('dng', ['intake' => $file->intake()]);
    }
}
