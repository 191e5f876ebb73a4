<?php

declare(strict_types=1);

namespace Velvet\Server\Work\Backup;

use Psr\Clock\ClockInterface;
use Velvet\Server\Store\BackupRefused;
use Velvet\Server\Store\Catalogue;

/** Brings a backup back. The ledger in use is never overwritten: it is set aside under another name. */
final readonly class Restoring
{
    public function __construct(
        private string $home,
        private Catalogue $catalogue,
        private ClockInterface $clock,
    ) {
    }

    /**
     * @param bool $mayBeSetAside a ledger that is here already
     *
     * @return string|null the name under which the ledger is kept that was here; null where there was none
     *
     * @throws BackupRefused
     */
    public function from(BackupFile $backup, bool $mayBeSetAside): ?string
    {
        if ([] !== array_diff($backup->sum->schema, self::known())) {
            throw BackupRefused::newer($backup->path);
        }
        $isEmpty = $this->catalogue->isEmpty();
        if (!$isEmpty && !$mayBeSetAside) {
            throw BackupRefused::ledgerHere();
        }
        $work = $this->home.'/backups/.restoring-'.bin2hex(random_bytes(4));
        $broughtUp = 'velvet_restored';
        mkdir($work, 0o700);
        try {
            $sum = $this->catalogue->bringUp($backup->unpack($work), $broughtUp);
        } finally {
            @unlink(BackupFile::dumpIn($work));
            rmdir($work);
        }
        if (!$sum->equals($backup->sum)) {
            $this->catalogue->drop($broughtUp);
            throw BackupRefused::noBackup($backup->path, 'what came out of it is not what went into it');
        }
        $aside = 'velvet_set_aside_'.$this->clock->now()->format('Ymd_His');
        $this->catalogue->exchange($broughtUp, $aside);
        if ($isEmpty) {
            $this->catalogue->drop($aside);
        }

        return $isEmpty ? null : $aside;
    }

    /** @return list<string> the migrations that this program knows, as the database names them */
    private static function known(): array
    {
        return array_map(
            static fn (string $path): string => 'Velvet\Server\Migrations\\'.basename($path, '.php'),
            array_values(array_filter((array) glob(\dirname(__DIR__, 3).'/migrations/Version*.php'), is_string(...))),
        );
    }
}
