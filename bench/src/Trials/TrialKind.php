<?php

declare(strict_types=1);

namespace Velvet\Bench\Trials;

/** What an intake does beside copying. */
enum TrialKind: string
{
    case Copies = 'workers killed';
    case Metadata = 'workers killed that write metadata';
    case Dng = 'workers killed that make DNG instead of raw files';

    /** @return list<string> options of the intake */
    public function options(): array
    {
        return match ($this) {
            self::Copies => [],
            self::Metadata => ['--creator', 'Ines Varga-Holt', '--keyword', 'Tarn Hollow'],
            self::Dng => ['--creator', 'Ines Varga-Holt', '--dng', 'instead'],
        };
    }
}
