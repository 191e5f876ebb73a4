<?php

declare(strict_types=1);

namespace Velvet\Server\Http\Payload;

use Velvet\Server\Store\Intake;
use Velvet\Server\Work\Sheets\SheetEdits;

final readonly class Join implements SheetEdit
{
    /** @param int $frame of the later of the two entries */
    public function __construct(public int $frame)
    {
    }

    public function apply(SheetEdits $edits, Intake $sheet): void
    {
        $edits->join($sheet, $edits->entryWith($sheet, $this->frame));
    }
}
