<?php

declare(strict_types=1);

namespace Velvet\Core\Transfer;

/** An entry as the plan takes it: its frames in capture order, its day and its name. */
final readonly class EntryToFile
{
    /**
     * @param string|null       $day  `YYYY-MM-DD`; null for frames without any date
     * @param list<FrameToFile> $frames
     */
    public function __construct(public int $number, public ?string $day, public string $name, public array $frames)
    {
    }
}
