<?php

declare(strict_types=1);

namespace Velvet\Core\Ledger;

use Velvet\Core\Bytes\Digest;
use Velvet\Core\Bytes\FileUnreadable;
use Velvet\Core\Copy\DriveCache;

/**
 * Reads filed files again, from the drive and not from the computer's memory, and compares them with what the ledger
 * has. Nothing is changed.
 */
final class DriveCheck
{
    public int $checked = 0;
    public int $good = 0;
    /** @var list<string> absolute paths of files with another content than was filed, or that cannot be read */
    public array $changed = [];
    /** @var list<string> */
    public array $missing = [];
    /** @var list<string> files in the shoots' folders that the ledger does not know */
    public array $unknown = [];
    /** @var list<string> roots that are not connected; nothing is said of what lies there */
    public array $away = [];

    /** @var list<Seal> that lie beside the pictures */
    public array $seals = [];

    /** @var array<string, true> */
    private array $known = [];

    public function __construct(private readonly DriveCache $cache)
    {
    }

    /** @return 'good'|'changed'|'missing' */
    public function file(string $path, int $bytes, Digest $digest): string
    {
        ++$this->checked;
        $this->known[$path] = true;
        clearstatcache(true, $path);
        if (!is_file($path)) {
            $this->missing[] = $path;

            return 'missing';
        }
        $this->cache->forget($path);
        try {
            if (filesize($path) === $bytes && Digest::ofFile($path)->equals($digest)) {
                ++$this->good;

                return 'good';
            }
        } catch (FileUnreadable) {
        }
        $this->changed[] = $path;

        return 'changed';
    }

    /** A copy that is the very file of another copy, by a link: it is none. */
    public function linked(string $path): void
    {
        ++$this->checked;
        $this->known[$path] = true;
        $this->missing[] = $path;
    }

    public function away(string $root): void
    {
        if (!\in_array($root, $this->away, true)) {
            $this->away[] = $root;
        }
    }

    /**
     * Looks for files that the ledger does not know; called when all that it knows of the folder were checked. Hidden
     * files and lists of checksums are ours or the computer's.
     */
    public function folder(string $folder): void
    {
        $names = is_dir($folder) ? @scandir($folder) : false;
        foreach (false === $names ? [] : $names as $name) {
            $path = $folder.'/'.$name;
            if ('.' === $name[0] || str_starts_with($name, 'checksums-intake-')) {
                $seal = str_ends_with($name, '.seal')
                    ? Seal::read((string) @file_get_contents($path, false, null, 0, 1000))
                    : null;
                array_push($this->seals, ...(null === $seal ? [] : [$seal]));
                continue;
            }
            if (is_dir($path) && !is_link($path)) {
                $this->folder($path);
            } elseif (!isset($this->known[$path])) {
                $this->unknown[] = $path;
            }
        }
    }

    /**
     * @return array{checked: int, good: int, changed: list<string>, missing: list<string>, unknown: list<string>} as
     *     the headless contract spells it
     */
    public function toArray(): array
    {
        return [
            'checked' => $this->checked,
            'good' => $this->good,
            'changed' => $this->changed,
            'missing' => $this->missing,
            'unknown' => $this->unknown,
        ];
    }
}
