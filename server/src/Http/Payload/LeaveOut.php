<?php

declare(strict_types=1);

namespace Velvet\Server\Http\Payload;

use Velvet\Server\Store\Intake;
use Velvet\Server\Work\Sheets\SheetEdits;

final readonly class LeaveOut extends FramesOfSheet
{
    public function apply(SheetEdits $edits, Intake $sheet): void
    {
        $edits->leaveOut($sheet, $this->ids($edits, $sheet), true);
    }
}
