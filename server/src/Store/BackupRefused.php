<?php

declare(strict_types=1);

namespace Velvet\Server\Store;

use Velvet\Server\Refusal;

/** A backup that cannot be made, or is not one that could be brought back. */
final class BackupRefused extends \RuntimeException implements Refusal
{
    public static function program(string $program, string $said): self
    {
        $lines = explode("\n", trim($said));

        return new self(\sprintf('%s does not go on: %s', $program, end($lines)));
    }

    public static function differs(): self
    {
        return new self(
            'The backup was restored for a trial, and is not what the ledger is. It was not kept; try again, and '
                .'look at the disk.',
        );
    }

    public static function folder(string $folder, string $reason): self
    {
        return new self(\sprintf('No backup can be written to “%s”: %s.', $folder, $reason));
    }

    public static function noBackup(string $file, string $reason): self
    {
        return new self(
            \sprintf('“%s” is no backup that can be brought back: %s. Nothing was changed.', $file, $reason),
        );
    }

    public static function newer(string $file): self
    {
        return self::noBackup($file, 'a newer Velvet Ledger made it; bring it back with that one');
    }

    public static function ledgerHere(): self
    {
        return new self(
            'There is a ledger in this home already. Nothing was changed. With --set-aside it is kept under another '
                .'name, and the backup takes its place.',
        );
    }

    public function status(): int
    {
        return 409;
    }
}
