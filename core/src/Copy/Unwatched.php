<?php

declare(strict_types=1);

namespace Velvet\Core\Copy;

/** Nobody looks on. */
final class Unwatched implements CopyWatch
{
    public function reading(): void
    {
    }

    public function read(int $bytes): void
    {
    }

    public function verifying(): void
    {
    }

    public function checked(int $bytes): void
    {
    }
}
