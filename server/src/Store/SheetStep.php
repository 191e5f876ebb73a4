<?php

declare(strict_types=1);

namespace Velvet\Server\Store;

/** An edit of a sheet that can be undone, or be done again. */
final readonly class SheetStep
{
    /** @param array<mixed> $snapshot of the sheet: before the edit where it can be undone, after it where it was */
    public function __construct(public int $id, public array $snapshot)
    {
    }
}
