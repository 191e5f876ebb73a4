<?php

declare(strict_types=1);

namespace Velvet\Core\Copy;

use Velvet\Core\Drive\DriveTable;
use Velvet\Core\Drive\KnownDrive;

/**
 * The drives that roots are known to lie on, as at the start of an intake; they are the same ones after a restart,
 * however numbered.
 */
final readonly class Drives
{
    /** @param array<string, KnownDrive> $known by the root that lies on it */
    public function __construct(private DriveTable $table, public array $known)
    {
    }

    /** @param list<string> $roots absolute; those that are not there are no drives of it */
    public static function at(DriveTable $table, array $roots): self
    {
        $known = [];
        foreach ($roots as $root) {
            $drive = is_dir($root) ? $table->holding($root) : null;
            if (null !== $drive) {
                $known[$root] = KnownDrive::of($drive);
            }
        }

        return new self($table, $known);
    }

    /** @param array<array-key, mixed> $record as {@see toArray()} gave it */
    public static function fromRecord(DriveTable $table, array $record): self
    {
        $known = [];
        foreach ($record as $root => $drive) {
            $known[(string) $root] = KnownDrive::fromRecord($drive);
        }

        return new self($table, array_filter($known, static fn (?KnownDrive $drive): bool => null !== $drive));
    }

    /** @return array<string, array{id: string, point: string}> */
    public function toArray(): array
    {
        return array_map(static fn (KnownDrive $drive): array => $drive->toArray(), $this->known);
    }

    /** Whether a root is there, on the drive that it was on before; where nobody asked before, whether it is there. */
    public function has(string $root): bool
    {
        clearstatcache(true, $root);

        return isset($this->known[$root]) ? $this->known[$root]->holds($root, $this->table) : is_dir($root);
    }

    /** Whether a root's drive is there and its folder is not: what lay in it is missing, not away. */
    public function lacks(string $root): bool
    {
        clearstatcache();
        $above = $root;
        while ('/' !== $above && !is_dir($above)) {
            $above = \dirname($above);
        }

        return $above !== $root
            && isset($this->known[$root])
            && $this->known[$root]->id === $this->table->holding($above)?->id;
    }

    /** @return string|null the first root whose drive is gone, or is another one now */
    public function missing(): ?string
    {
        foreach (array_keys($this->known) as $root) {
            if (!$this->has($root)) {
                return $root;
            }
        }

        return null;
    }

    /**
     * What each target must stand on.
     *
     * @param array<string, string> $targets absolute, by the root that each lies below
     *
     * @return array<string, Ground> by target
     *
     * @throws DriveGone
     */
    public function grounds(array $targets): array
    {
        $grounds = [];
        foreach ($targets as $root => $target) {
            $ground = $this->has($root) ? Ground::at($root) : null;
            $grounds[$target] = $ground ?? throw DriveGone::from($target);
        }

        return $grounds;
    }

    /** Whether there are several roots, and two of them on drives that have nothing in common. */
    public function areApart(): bool
    {
        $drives = array_filter(array_map($this->table->holding(...), array_keys($this->known)));
        foreach ($drives as $one) {
            foreach ($drives as $other) {
                if ($one->isApartFrom($other)) {
                    return true;
                }
            }
        }

        return false;
    }
}
