<?php

declare(strict_types=1);

namespace Velvet\Server\Work\Ledger;

use Psr\Clock\ClockInterface;
use Velvet\Core\Copy\DriveCache;
use Velvet\Core\Drive\FileStamp;
use Velvet\Core\Filed\CopyStanding;
use Velvet\Core\Filed\FiledFile;
use Velvet\Core\Ledger\DriveCheck;
use Velvet\Server\Store\FiledCopies;
use Velvet\Server\Store\FiledFiles;
use Velvet\Server\Store\Ledger;

/**
 * Checks what is filed against the ledger, and remembers what is missing or changed: the next time its card is there,
 * it is repaired.
 */
final readonly class LedgerCheck
{
    private const PAGE = 2000;

    public function __construct(
        private FiledFiles $files,
        private DriveCache $cache,
        private Ledger $ledger,
        private ClockInterface $clock,
        private FiledCopies $copies,
    ) {
    }

    /**
     * @param string|null           $what   a shoot's name or folder, or a shelf's name or root; null: everything
     * @param \Closure(string): void $onFile told of each file before it is read
     *
     * @throws NothingFiled
     */
    public function of(?string $what, \Closure $onFile): DriveCheck
    {
        $check = new DriveCheck($this->cache);
        $last = 0;
        $folders = [];
        while ([] !== $page = $this->files->toBeChecked($what, $last, self::PAGE)) {
            $files = $this->files->many(array_keys($page));
            $placesOf = $this->files->placesOf($files);
            foreach ($files as $file) {
                $last = $file->id();
                $places = $placesOf[$last];
                $inodes = [];
                foreach ($places->roots as $root) {
                    if (!\in_array($root, $places->connected, true) && !$places->drives->lacks($root)) {
                        $check->away($root);
                        continue;
                    }
                    $path = $root.'/'.$file->path();
                    $folders[$root.'/'.$page[$last]] = true;
                    $onFile($path);
                    $inode = FileStamp::of($path)->inode ?? '';
                    if (isset($inodes[$inode])) {
                        $check->linked($path);
                        $this->remember($file, $root, 'missing');
                        continue;
                    }
                    $inodes += '' === $inode ? [] : [$inode => true];
                    $sidecar = $file->sidecar();
                    if (null !== $sidecar) {
                        $check->file($root.'/'.$file->sidecarPath(), $sidecar->bytes, $sidecar->digest);
                    }
                    $this->remember(
                        $file,
                        $root,
                        $check->file($path, $file->content()->bytes, $file->content()->digest),
                    );
                }
                $this->files->change($last, fn (FiledFile $file) => $file->checked($this->clock->now()));
            }
        }
        if (0 === $last) {
            throw NothingFiled::under($what ?? '');
        }
        array_map($check->folder(...), array_keys($folders));
        $this->ledger->write(
            'checked',
            [
                'what' => $what ?? 'everything',
                'checked' => $check->checked,
                'good' => $check->good,
                'changed' => \count($check->changed),
                'missing' => \count($check->missing),
            ],
        );

        return $check;
    }

    /** @param 'good'|'changed'|'missing' $found */
    private function remember(FiledFile $file, string $root, string $found): void
    {
        if ('good' === $found) {
            $this->copies->verified(
                $file->id(),
                $file->shelf(),
                [$root],
                $file->path(),
                $file->content()->digest,
                $file->content()->bytes,
            );
        } else {
            $this->copies->foundAt(
                $file->id(),
                $file->shelf(),
                $root,
                $file->path(),
                CopyStanding::from($found),
                $file->content()->digest->hex,
            );
        }
    }
}
