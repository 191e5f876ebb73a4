<?php

declare(strict_types=1);

namespace Velvet\Server\Work\Backup;

use Doctrine\ORM\EntityManagerInterface;
use Psr\Clock\ClockInterface;
use Psr\Log\LoggerInterface;
use Velvet\Core\Bytes\Digest;
use Velvet\Core\Bytes\FileUnreadable;
use Velvet\Core\Copy\PartFile;
use Velvet\Core\Copy\TransferFailure;
use Velvet\Core\Copy\VerifyMismatch;
use Velvet\Core\Drive\DriveTable;
use Velvet\Server\Store\BackupRefused;
use Velvet\Server\Store\Catalogue;
use Velvet\Server\Store\Happenings;
use Velvet\Server\Store\LedgerChecks;
use Velvet\Server\Store\Lock;
use Velvet\Server\Store\Locks;
use Velvet\Server\Store\Shelf;
use Velvet\Server\Store\Styles;

/**
 * Keeps the ledger in backups: in the home, and beside the pictures on every place that is connected, so that each
 * drive holds the catalogue of what is on it. Each was brought up in a scratch database and compared before it counts
 * as one.
 */
final readonly class Backups
{
    /** The folder beside the shoots. */
    public const FOLDER = 'Velvet Ledger backups';
    private const CHUNK = 1024 * 1024;
    /** The database in which it is brought up to be compared. */
    private const SCRATCH = 'velvet_scratch';

    public function __construct(
        private string $home,
        private Catalogue $catalogue,
        private Locks $locks,
        private LedgerChecks $checks,
        private Styles $styles,
        private EntityManagerInterface $entities,
        private DriveTable $drives,
        private ClockInterface $clock,
        private Happenings $happenings,
        private LoggerInterface $logger,
    ) {
    }

    /**
     * One in the home and on every place, and says what came of it where pages look.
     *
     * @throws BackupRefused
     */
    public function keep(): BackupReport
    {
        try {
            $backup = $this->make($this->folder());
        } catch (BackupRefused $e) {
            $this->remember($this->last()->failed($this->clock->now(), $e->getMessage()));
            throw $e;
        }
        $this->prune($this->folder(), Retention::ofHome());
        $places = [];
        $withoutIt = [];
        foreach ($this->entities->getRepository(Shelf::class)->findBy([], ['id' => 'ASC']) as $shelf) {
            foreach ($shelf->roots() as $root) {
                try {
                    $this->lay($backup->path, $shelf, $root);
                    $places[] = $root;
                } catch (TransferFailure|FileUnreadable $e) {
                    $this->logger->warning('Backup not written: {why}', ['why' => $e->getMessage()]);
                    $withoutIt[] = $root;
                }
            }
        }
        $report = BackupReport::of($backup, $places, $withoutIt);
        $this->remember($report);

        return $report;
    }

    /**
     * One in a folder that is there, compared with the ledger. One is made at a time: what lies where it is made was
     * left by one that was killed.
     *
     * @throws BackupRefused
     */
    public function make(string $folder): BackupFile
    {
        return $this->locks->with(Lock::Backup, 0, fn (): BackupFile => $this->makeAlone($folder));
    }

    /** @throws BackupRefused */
    private function makeAlone(string $folder): BackupFile
    {
        $at = $this->clock->now()->setTimezone(new \DateTimeZone('UTC'));
        $path = $folder.'/'.$this->prefix().$at->format('Ymd\THis\Z').BackupFile::ENDING;
        $part = $folder.'/'.$this->prefix().'.part';
        $work = $this->folder().'/.making';
        if (!is_dir($folder) || !is_writable($folder)) {
            throw BackupRefused::folder($folder, is_dir($folder) ? 'it cannot be written to' : 'it is not there');
        }
        self::remove($work);
        mkdir($work, 0o700);
        try {
            $sum = $this->catalogue->dump(BackupFile::dumpIn($work));
            $backup = BackupFile::pack($part, $work, $at, $sum, $this->stylesByName(), $this->settings());
            // what was packed is what is brought up: the whole way back is gone once
            unlink(BackupFile::dumpIn($work));
            if (!$this->catalogue->bringUp($backup->unpack($work), self::SCRATCH)->equals($sum)) {
                throw BackupRefused::differs();
            }
            $this->settle($part, $path);
            if ($sum->chain['whole']) {
                $this->checks->passed($sum->chain['lines'], $sum->end);
            }

            return BackupFile::open($path);
        } finally {
            $this->catalogue->drop(self::SCRATCH);
            @unlink($part);
            self::remove($work);
        }
    }

    /** What became of the latest try. */
    public function last(): BackupReport
    {
        return BackupReport::fromJson((string) @file_get_contents($this->folder().'/last.json'));
    }

    private function folder(): string
    {
        $folder = $this->home.'/backups';
        if (!is_dir($folder)) {
            mkdir($folder, 0o700);
        }

        return $folder;
    }

    /** Several homes may keep backups in one place. */
    private function prefix(): string
    {
        return 'ledger-'.substr(hash('sha256', $this->home), 0, 4).'-';
    }

    /** @return array<string, string> */
    private function stylesByName(): array
    {
        $documents = [];
        foreach ($this->styles->all() as $style) {
            $documents[$style->name] = json_encode(
                $style->toArray(),
                \JSON_THROW_ON_ERROR | \JSON_PRETTY_PRINT | \JSON_UNESCAPED_SLASHES | \JSON_UNESCAPED_UNICODE,
            );
        }

        return $documents;
    }

    /** @return array<string, mixed> */
    private function settings(): array
    {
        return [
            'port' => getenv('VELVET_PORT'),
            'bays' => getenv('VELVET_BAYS'),
            'time_zone' => date_default_timezone_get(),
        ];
    }

    /** Gives the finished file its name, when the disk has it. */
    private function settle(string $part, string $path): void
    {
        $file = fopen($part, 'r+');
        if (false === $file || !fsync($file) || !rename($part, $path)) {
            throw BackupRefused::folder(\dirname($path), 'the disk does not keep it');
        }
        fclose($file);
    }

    /** @throws TransferFailure|FileUnreadable */
    private function lay(string $backup, Shelf $shelf, string $root): void
    {
        $target = $root.'/'.self::FOLDER.'/'.basename($backup);
        $part = null;
        try {
            $digest = Digest::ofFile($backup);
            $ground = $shelf->drives($this->drives)->grounds([$root => $target])[$target];
            $part = PartFile::create($target, $this->prefix().'backup', $ground);
            $file = fopen($backup, 'r');
            while (false !== $file && !feof($file)) {
                $part->write((string) fread($file, self::CHUNK));
            }
            $part->finish($this->clock->now()->getTimestamp());
            $part->sync();
            if (!$part->reads($digest)) {
                throw VerifyMismatch::at($target);
            }
            $part->place($digest);
            $this->prune(\dirname($target), Retention::ofPlaces());
        } finally {
            $part?->discard();
        }
    }

    private function prune(string $folder, Retention $rule): void
    {
        $made = [];
        foreach ((array) scandir($folder) as $name) {
            $at = \is_string($name)
                && str_starts_with($name, $this->prefix())
                && str_ends_with($name, BackupFile::ENDING)
                ? \DateTimeImmutable::createFromFormat(
                    'Ymd\THis\Z',
                    substr($name, \strlen($this->prefix()), -\strlen(BackupFile::ENDING)),
                    new \DateTimeZone('UTC'),
                )
                : false;
            if (false !== $at) {
                $made[(string) $name] = $at;
            }
        }
        foreach (array_diff(array_keys($made), $rule->kept($made)) as $name) {
            @unlink($folder.'/'.$name);
        }
    }

    private function remember(BackupReport $report): void
    {
        $path = $this->folder().'/last.json';
        $said = json_encode(
            $report->toArray(),
            \JSON_THROW_ON_ERROR | \JSON_UNESCAPED_SLASHES | \JSON_UNESCAPED_UNICODE,
        );
        if (false !== @file_put_contents($path.'.part', $said)) {
            rename($path.'.part', $path);
        }
        $this->happenings->tell('ledger', []);
    }

    private static function remove(string $folder): void
    {
        if (!is_dir($folder)) {
            return;
        }
        foreach ((array) scandir($folder) as $name) {
            if (\is_string($name) && '.' !== $name && '..' !== $name) {
                is_dir($folder.'/'.$name) ? self::remove($folder.'/'.$name) : unlink($folder.'/'.$name);
            }
        }
        rmdir($folder);
    }
}
