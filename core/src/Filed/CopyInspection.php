<?php

declare(strict_types=1);

namespace Velvet\Core\Filed;

use Velvet\Core\Bytes\Digest;
use Velvet\Core\Bytes\FileUnreadable;
use Velvet\Core\Bytes\Fingerprint;
use Velvet\Core\Copy\DriveCache;
use Velvet\Core\Copy\Drives;
use Velvet\Core\Drive\Drive;
use Velvet\Core\Drive\DriveTable;
use Velvet\Core\Drive\FileStamp;

/** Looks at verified copies again: whether each is still there, on its own drive, as it was verified. */
final readonly class CopyInspection
{
    /** Files that the ledger is asked for at once: a card has very many. */
    private const TOGETHER = 1000;

    public function __construct(private CopyLedger $ledger, private DriveTable $drives, private DriveCache $cache)
    {
    }

    /**
     * @param list<int> $files     of the ledger
     * @param bool      $readAgain whether copies that somebody wrote to since are read and compared; else they only do
     *                             not count
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
        foreach (array_chunk($files, self::TOGETHER) as $some) {
            foreach ($this->ledger->of($some) as $copy) {
                $root = $copy->place->root;
                if (!\array_key_exists($root, $drives)) {
                    $drives[$root] = is_dir($root) ? $this->drives->holding($root) : null;
                }
                $folder = \dirname($copy->path());
                $within[$folder] ??= self::isWithin($root, $folder);
                $seen[$copy->file][] = $this->copy($copy, $drives[$root], $within[$folder], $readAgain);
            }
        }

        return $seen;
    }

    private function copy(KeptCopy $copy, ?Drive $drive, bool $isWithin, bool $readAgain): CopySeen
    {
        $root = $copy->place->root;
        $isAssumed = '' === $copy->place->drive;
        if (!$copy->place->isShelf) {
            return CopySeen::not($root, CopyStanding::Elsewhere);
        }
        $known = fn (): Drives => Drives::fromRecord($this->drives, $copy->place->drives);
        $isThere = $isAssumed ? $known()->has($root) : $drive?->id === $copy->place->drive;
        if (null === $drive || !$isThere) {
            return CopySeen::not($root, $known()->lacks($root) ? CopyStanding::Missing : CopyStanding::Away);
        }
        $stamp = FileStamp::of($copy->path());
        if (null === $stamp) {
            return $this->differs($copy, $drive, $isWithin, $readAgain, CopyStanding::Missing);
        }
        if (!$isWithin) {
            return CopySeen::not($root, CopyStanding::Elsewhere);
        }
        $isAsVerified = !$isAssumed
            && CopyStanding::Whole === $copy->standing
            && !$copy->isBehind()
            && $stamp->equals($copy->stamp)
            && ($drive->keepsChangeTimes() || Fingerprint::ofPath($copy->path()) === $copy->fingerprint);
        if (!$isAsVerified) {
            if (!$readAgain) {
                return CopySeen::not(
                    $root,
                    CopyStanding::Whole === $copy->standing ? CopyStanding::Touched : $copy->standing,
                );
            }
            if (!$this->holds($copy->path(), $copy->content)) {
                return $this->differs($copy, $drive, $isWithin, true, CopyStanding::Changed);
            }
            $this->ledger->whole($copy);
        }

        return CopySeen::whole($root, $drive, $stamp->inode);
    }

    /**
     * A copy is not as it was set down. Somebody of ours may be at it: what was asked of the ledger before is asked
     * again first, and what is being written into it is looked for.
     */
    private function differs(
        KeptCopy $copy,
        Drive $drive,
        bool $isWithin,
        bool $isSetDown,
        CopyStanding $standing,
    ): CopySeen {
        foreach ($this->ledger->of([$copy->file]) as $now) {
            if ($copy->isOlderThan($now)) {
                return $this->copy($now, $drive, $isWithin, $isSetDown);
            }
        }
        if (
            CopyStanding::Changed === $standing
            && null !== $copy->inTheMaking
            && $this->holds($copy->path(), $copy->inTheMaking)
        ) {
            return CopySeen::not($copy->place->root, CopyStanding::BeingWritten);
        }
        if ($isSetDown) {
            $this->ledger->damaged($copy, $standing);
        }

        return CopySeen::not($copy->place->root, $standing);
    }

    /** From the drive, not from the computer's memory. */
    private function holds(string $path, Content $content): bool
    {
        $this->cache->forget($path);
        try {
            return filesize($path) === $content->bytes && Digest::ofFile($path)->equals($content->digest);
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
