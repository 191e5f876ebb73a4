<?php

declare(strict_types=1);

namespace Velvet\Server\Work\Ledger;

use Velvet\Core\Bytes\Digest;
use Velvet\Core\Bytes\FileUnreadable;
use Velvet\Core\Copy\DriveCache;
use Velvet\Core\Copy\Drives;
use Velvet\Core\Drive\Drive;
use Velvet\Core\Drive\DriveTable;
use Velvet\Core\Drive\FileStamp;
use Velvet\Core\Filed\CopySeen;
use Velvet\Core\Filed\CopyStanding;
use Velvet\Server\Store\FiledCopies;
use Velvet\Server\Store\Row;

/** Looks at verified copies again: whether each is still there, on its own drive, as it was verified. */
final readonly class Copies
{
    public function __construct(private FiledCopies $copies, private DriveTable $drives, private DriveCache $cache)
    {
    }

    /**
     * @param list<int> $files     of `filed_file`
     * @param bool      $readAgain whether copies that somebody wrote to since are read and compared; else they only do
     * not count
     *
     * @return array<int, list<CopySeen>> by file; the shelf's own copy first
     */
    public function look(array $files, bool $readAgain): array
    {
        $seen = [];
        /** @var array<string, Drive|null> $drives */
        $drives = [];
        /** @var array<string, bool> $within */
        $within = [];
        foreach ($this->copies->of($files) as $row) {
            $root = $row->text('root');
            if (!\array_key_exists($root, $drives)) {
                $drives[$root] = is_dir($root) ? $this->drives->holding($root) : null;
            }
            $folder = \dirname($root.'/'.$row->text('path'));
            $within[$folder] ??= self::isWithin($root, $folder);
            $seen[$row->int('file_id')][] = $this->copy($row, $drives[$root], $within[$folder], $readAgain);
        }

        return $seen;
    }

    private function copy(Row $row, ?Drive $drive, bool $isWithin, bool $readAgain): CopySeen
    {
        $root = $row->text('root');
        $isAssumed = '' === $row->text('drive');
        if (!\in_array($root, [$row->text('shelf_root'), $row->textOrNull('twin_root')], true)) {
            return CopySeen::not($root, CopyStanding::Elsewhere);
        }
        $known = Drives::fromRecord($this->drives, $row->json('drives'));
        $isThere = $isAssumed ? $known->has($root) : $drive?->id === $row->text('drive');
        if (null === $drive || !$isThere) {
            return CopySeen::not($root, $known->lacks($root) ? CopyStanding::Missing : CopyStanding::Away);
        }
        $path = $root.'/'.$row->text('path');
        $stamp = FileStamp::of($path);
        if (null === $stamp) {
            return $this->differs($row, $drive, $isWithin, $readAgain, CopyStanding::Missing);
        }
        if (!$isWithin) {
            return CopySeen::not($root, CopyStanding::Elsewhere);
        }
        $isAsVerified = !$isAssumed
            && 'whole' === $row->text('state')
            && $row->text('verified') === $row->text('digest')
            && $stamp->equals($row->text('stamp'))
            && ($drive->keepsChangeTimes() || FiledCopies::fingerprint($path) === $row->text('fingerprint'));
        if (!$isAsVerified) {
            if (!$readAgain) {
                return CopySeen::not(
                    $root,
                    'whole' === $row->text('state') ? CopyStanding::Touched : CopyStanding::from($row->text('state')),
                );
            }
            if (!$this->holds($path, Digest::fromHex($row->text('digest')), $row->int('bytes'))) {
                return $this->differs($row, $drive, $isWithin, true, CopyStanding::Changed);
            }
            $this->copies->verified(
                $row->int('file_id'),
                $row->int('shelf_id'),
                [$root],
                $row->text('path'),
                Digest::fromHex($row->text('digest')),
                $row->int('bytes'),
            );
        }

        return CopySeen::whole($root, $drive, $stamp->inode);
    }

    /**
     * A copy is not as it was set down. Somebody of ours may be at it: what was asked of the ledger before is asked
     * again first, and what is being written into it is looked for.
     */
    private function differs(Row $row, Drive $drive, bool $isWithin, bool $isSetDown, CopyStanding $standing): CopySeen
    {
        foreach ($this->copies->of([$row->int('file_id')]) as $now) {
            if ($now->int('place_id') === $row->int('place_id') && !$now->equals($row)) {
                return $this->copy($now, $drive, $isWithin, $isSetDown);
            }
        }
        $path = $row->text('root').'/'.$row->text('path');
        $made = $row->textOrNull('metadata_digest');
        if (CopyStanding::Changed === $standing && null !== $made
            && $this->holds($path, Digest::fromHex($made), $row->int('metadata_bytes'))) {
            return CopySeen::not($row->text('root'), CopyStanding::BeingWritten);
        }
        if ($isSetDown) {
            $this->copies->found($row->int('file_id'), $row->int('place_id'), $standing, $row->text('verified'));
        }

        return CopySeen::not($row->text('root'), $standing);
    }

    /** From the drive, not from the computer's memory. */
    private function holds(string $path, Digest $digest, int $bytes): bool
    {
        $this->cache->forget($path);
        try {
            return filesize($path) === $bytes && Digest::ofFile($path)->equals($digest);
        } catch (FileUnreadable) {
            return false;
        }
    }

    /** Whether no folder between is a link that leads out of the place. */
    private static function isWithin(string $root, string $folder): bool
    {
        $real = realpath($root);

        return false !== $real && realpath($folder) === rtrim($real.substr($folder, \strlen($root)), '/');
    }
}
