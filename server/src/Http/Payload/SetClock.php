<?php

declare(strict_types=1);

namespace Velvet\Server\Http\Payload;

use Velvet\Server\Store\Intake;
use Velvet\Server\Work\Sheets\SheetEdits;

final readonly class SetClock implements SheetEdit
{
    public function __construct(public string $camera, public int $seconds)
    {
    }

    public function apply(SheetEdits $edits, Intake $sheet): void
    {
        $edits->correct($sheet, $this->camera, $this->seconds);
    }
}
