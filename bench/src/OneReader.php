<?php

declare(strict_types=1);

namespace Velvet\Bench;

use Velvet\Core\Copy\CopyWatch;
use Velvet\Core\Copy\FileToCopy;

/** Lets one worker at a time read from the card, as the server's does through the database. */
final class OneReader implements CopyWatch
{
    /** @var resource|null */
    private $lock;

    public function __construct(private readonly string $path)
    {
    }

    public function file(FileToCopy $file): void
    {
    }

    public function reading(): void
    {
        $lock = fopen($this->path, 'c');
        $this->lock = false === $lock ? null : $lock;
        if (null !== $this->lock) {
            flock($this->lock, \LOCK_EX);
        }
    }

    public function read(int $bytes): void
    {
    }

    public function verifying(array $read): array
    {
        if (null !== $this->lock) {
            fclose($this->lock);
            $this->lock = null;
        }

        return [];
    }

    public function checked(int $bytes): void
    {
    }
}
