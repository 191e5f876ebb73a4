<?php

declare(strict_types=1);

namespace Velvet\Server\Http\Payload;

use Symfony\Component\Serializer\Attribute\DiscriminatorMap;
use Velvet\Server\Store\Intake;
use Velvet\Server\Work\Sheets\SheetEdits;

/** One edit by hand of how frames lie on a sheet. */
#[DiscriminatorMap('do', [
    'split' => Split::class,
    'join' => Join::class,
    'move' => Move::class,
    'leave_out' => LeaveOut::class,
    'take_back' => TakeBack::class,
    'clock' => SetClock::class,
    'undo' => Undo::class,
    'redo' => Redo::class,
])]
interface SheetEdit extends Payload
{
    public function apply(SheetEdits $edits, Intake $sheet): void;
}
