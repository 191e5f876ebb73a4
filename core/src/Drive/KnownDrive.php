<?php

declare(strict_types=1);

namespace Velvet\Core\Drive;

/**
 * A drive as it is remembered for a folder that lies on it. A drive that is taken off leaves an empty folder of the
 * computer's own disk where it was mounted: only asking for the drive itself tells that nothing must be written, or
 * held to be missing, there.
 */
final readonly class KnownDrive
{
    /**
     * @param string $id    as {@see Drive::$id}; empty where it is only known where it was mounted, as old records have
     * it
     * @param string $point absolute folder at which it was mounted
     */
    public function __construct(public string $id, public string $point)
    {
    }

    public static function of(Drive $drive): self
    {
        return new self($drive->id, $drive->point);
    }

    /** @param mixed $record as {@see toArray()} gave it */
    public static function fromRecord(mixed $record): ?self
    {
        $record = \is_array($record) ? $record : [];
        [$id, $point] = [$record['id'] ?? null, $record['point'] ?? null];

        return \is_string($id) && \is_string($point) ? new self($id, $point) : null;
    }

    /** @return array{id: string, point: string} */
    public function toArray(): array
    {
        return ['id' => $this->id, 'point' => $this->point];
    }

    /** Whether a folder is there, on this very drive. */
    public function holds(string $folder, DriveTable $drives): bool
    {
        clearstatcache();
        $drive = is_dir($folder) ? $drives->holding($folder) : null;

        return null !== $drive
            && ('' === $this->id ? '/' === $this->point || $drive->point === $this->point : $drive->id === $this->id);
    }
}
