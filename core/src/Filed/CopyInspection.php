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
            $found = [];
            foreach ($this->ledger->of($some) as $copy) {
                $root = $copy->place->root;
                if (!\array_key_exists($root, $drives)) {
                    $drives[$root] = is_dir($root) ? $this->drives->holding($root) : null;
                }
                $folder = \dirname($copy->path());
                $within[$folder] ??= self::isWithin($root, $folder);
                $one = $this->copy($copy, $drives[$root], $within[$folder], $readAgain);
                $found[] = [$copy->file, $readAgain && $one instanceof OddCopy ? $this->settled($one, true) : $one];
            }
            $now = $this->now(array_column($found, 1));
            foreach ($found as [$file, $one]) {
                $seen[$file][] = $one instanceof OddCopy ? $this->settled($one, false, $now[$file] ?? []) : $one;
            }
        }

        return $seen;
    }

    /**
     * Asked once for all of them: where a whole shelf is gone there are very many.
     *
     * @param list<CopySeen|OddCopy> $found
     *
     * @return array<int, list<KeptCopy>> what the ledger has by now of files with odd copies, by file
     */
    private function now(array $found): array
    {
        $odd = array_filter($found, static fn (CopySeen|OddCopy $one): bool => $one instanceof OddCopy);
        $now = [];
        foreach ([] === $odd ? [] : $this->ledger->of(self::filesOf($odd)) as $copy) {
            $now[$copy->file][] = $copy;
        }

        return $now;
    }

    /**
     * @param array<OddCopy> $odd
     *
     * @return list<int>
     */
    private static function filesOf(array $odd): array
    {
        return array_values(array_unique(array_map(static fn (OddCopy $one): int => $one->copy->file, $odd)));
    }

    private function copy(KeptCopy $copy, ?Drive $drive, bool $isWithin, bool $readAgain): CopySeen|OddCopy
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
            return new OddCopy($copy, CopyStanding::Missing, $drive, $isWithin);
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
                return new OddCopy($copy, CopyStanding::Changed, $drive, $isWithin);
            }
            $this->ledger->whole($copy);
        }

        return CopySeen::whole($root, $drive, $stamp->inode);
    }

    /**
     * Somebody of ours may be at it: what was asked of the ledger before is asked again first, and what is being
     * written into it is looked for.
     *
     * @param list<KeptCopy>|null $nowKept what the ledger has of the file by now; null: it is to be asked
     */
    private function settled(OddCopy $odd, bool $readAgain, ?array $nowKept = null): CopySeen
    {
        $copy = $odd->copy;
        foreach ($nowKept ?? $this->ledger->of([$copy->file]) as $now) {
            if ($copy->isOlderThan($now)) {
                $found = $this->copy($now, $odd->drive, $odd->isWithin, $readAgain);

                return $found instanceof OddCopy ? $this->settled($found, $readAgain) : $found;
            }
        }
        if (
            CopyStanding::Changed === $odd->standing
            && null !== $copy->inTheMaking
            && $this->holds($copy->path(), $copy->inTheMaking)
        ) {
            return CopySeen::not($copy->place->root, CopyStanding::BeingWritten);
        }
        if ($readAgain) {
            $this->ledger->damaged($copy, $odd->standing);
        }

        return CopySeen::not($copy->place->root, $odd->standing);
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
