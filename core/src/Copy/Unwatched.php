<?php

declare(strict_types=1);

namespace Velvet\Core\Copy;

/** Nobody looks on. */
final class Unwatched implements CopyWatch
{
    public function file(FileToCopy $file): void
    {
    }

    public function reading(): void
    {
    }

    public function read(int $bytes): void
    {
    }

    public function verifying(array $read): array
    {
        return [];
    }

    public function checked(int $bytes): void
    {
    }
}
