<?php

declare(strict_types=1);

namespace Velvet\Server\Http\Payload;

use Symfony\Component\Validator\Constraints as Assert;
use Symfony\Component\Validator\Context\ExecutionContextInterface;

/** Frames of a shoot: by their ids, or as all but some, so that thousands that are selected make a short request. */
readonly class Selection implements Payload
{
    /**
     * @param non-empty-list<int>|null $frames null: all of the shoot
     * @param list<int>                $except of all, those that are not meant
     * @param int|null                 $of     how many all were when they were chosen; null where it is not said
     */
    public function __construct(
        #[Assert\Count(min: 1, minMessage: 'must name one at least')]
        public ?array $frames = null,
        public array $except = [],
        #[Assert\PositiveOrZero(message: 'must not be negative')]
        public ?int $of = null,
    ) {
    }

    #[Assert\Callback]
    public function isOneWay(ExecutionContextInterface $context): void
    {
        if (null !== $this->frames && ([] !== $this->except || null !== $this->of)) {
            $context->buildViolation('must not stand beside frames')
                ->atPath([] === $this->except ? 'of' : 'except')
                ->addViolation();
        }
    }
}
