<?php

declare(strict_types=1);

namespace Velvet\Server\Http\Payload;

use Symfony\Component\Validator\Constraints as Assert;
use Symfony\Component\Validator\Context\ExecutionContextInterface;

final readonly class AsideChange implements Payload
{
    /**
     * @param non-empty-list<int>|null $frames null: all that this can be done with
     * @param int|null                 $files  how many files and sidecars the person was told of
     */
    public function __construct(
        public AsideAct $do,
        #[Assert\Count(min: 1, minMessage: 'must name one at least')]
        public ?array $frames = null,
        #[Assert\PositiveOrZero(message: 'must not be negative')]
        public ?int $files = null,
    ) {
    }

    #[Assert\Callback]
    public function counts(ExecutionContextInterface $context): void
    {
        if (null === $this->files && $this->do->isForGood()) {
            $context->buildViolation('must say how many files are meant')->atPath('files')->addViolation();
        }
    }
}
