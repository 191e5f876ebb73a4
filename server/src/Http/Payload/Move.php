<?php

declare(strict_types=1);

namespace Velvet\Server\Http\Payload;

use Symfony\Component\Validator\Constraints as Assert;
use Velvet\Server\Store\Intake;
use Velvet\Server\Work\Sheets\SheetEdits;

final readonly class Move implements SheetEdit
{
    /**
     * @param non-empty-list<int> $frames
     * @param int|null            $to     a frame of the entry that takes them; null: a new one
     */
    public function __construct(
        #[Assert\Count(min: 1, minMessage: 'must name one at least')]
        public array $frames,
        public ?int $to,
    ) {
    }

    public function apply(SheetEdits $edits, Intake $sheet): void
    {
        $edits->move($sheet, $this->frames, null === $this->to ? null : $edits->entryWith($sheet, $this->to));
    }
}
