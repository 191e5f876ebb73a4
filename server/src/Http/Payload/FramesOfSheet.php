<?php

declare(strict_types=1);

namespace Velvet\Server\Http\Payload;

use Symfony\Component\Validator\Constraints as Assert;
use Symfony\Component\Validator\Context\ExecutionContextInterface;
use Velvet\Server\Store\Intake;
use Velvet\Server\Work\Sheets\SheetEdits;

/** An edit of frames: by their ids, and by spans, so that thousands that are selected make a short request. */
abstract readonly class FramesOfSheet implements SheetEdit
{
    /**
     * @param list<int>       $frames ids
     * @param list<list<int>> $spans  the first and the last id of frames that follow each other in one entry
     */
    public function __construct(public array $frames = [], public array $spans = [])
    {
    }

    #[Assert\Callback]
    public function namesSome(ExecutionContextInterface $context): void
    {
        if ([] === $this->frames && [] === $this->spans) {
            $context->buildViolation('must name one at least')->atPath('frames')->addViolation();
        }
        if ([] !== array_filter($this->spans, static fn (array $span): bool => 2 !== \count($span))) {
            $context->buildViolation('must be a list of pairs of whole numbers')->atPath('spans')->addViolation();
        }
    }

    /** @return list<int> the ids of all of them */
    protected function ids(SheetEdits $edits, Intake $sheet): array
    {
        return [...$this->frames, ...$edits->inSpans($sheet, $this->spans)];
    }
}
