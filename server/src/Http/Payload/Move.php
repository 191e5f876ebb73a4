<?php

declare(strict_types=1);

namespace Velvet\Server\Http\Payload;

use Velvet\Server\Store\Intake;
use Velvet\Server\Work\Sheets\SheetEdits;

final readonly class Move extends FramesOfSheet
{
    /**
     * @param int|null        $to     a frame of the entry that takes them; null: a new one
     * @param list<int>       $frames
     * @param list<list<int>> $spans
     */
    public function __construct(public ?int $to, array $frames = [], array $spans = [])
    {
        parent::__construct($frames, $spans);
    }

    public function apply(SheetEdits $edits, Intake $sheet): void
    {
        $edits->move(
            $sheet,
            $this->ids($edits, $sheet),
            null === $this->to ? null : $edits->entryWith($sheet, $this->to),
        );
    }
}
