<?php

declare(strict_types=1);

namespace Velvet\Server\Http\Payload;

use Symfony\Component\Validator\Constraints as Assert;
use Velvet\Server\Store\Intake;
use Velvet\Server\Work\Sheets\SheetEdits;

final readonly class TakeBack implements SheetEdit
{
    /** @param non-empty-list<int> $frames */
    public function __construct(
        #[Assert\Count(min: 1, minMessage: 'must name one at least')]
        public array $frames,
    ) {
    }

    public function apply(SheetEdits $edits, Intake $sheet): void
    {
        $edits->leaveOut($sheet, $this->frames, false);
    }
}
