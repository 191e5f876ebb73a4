<?php

declare(strict_types=1);

namespace Velvet\Server\Http\Payload;

use Symfony\Component\Validator\Constraints as Assert;
use Symfony\Component\Validator\Context\ExecutionContextInterface;
use Velvet\Core\Metadata\Field;

final readonly class SelectionChange extends Selection
{
    /**
     * @param non-empty-list<int>|null   $frames null: all of the shoot
     * @param array<string, string>|null $texts  by the names of fields
     * @param list<string>|null          $add    keywords, as paths
     * @param non-empty-list<int>|null   $remove keywords
     * @param list<int>                  $except
     */
    public function __construct(
        ?array $frames = null,
        public ?array $texts = null,
        public ?array $add = null,
        #[Assert\Count(min: 1, minMessage: 'must name one at least')]
        public ?array $remove = null,
        #[Assert\Range(notInRangeMessage: 'must be a number from 0 to 5', min: 0, max: 5)]
        public ?int $rating = null,
        array $except = [],
        ?int $of = null,
    ) {
        parent::__construct($frames, $except, $of);
    }

    #[Assert\Callback]
    public function isOfFields(ExecutionContextInterface $context): void
    {
        foreach (array_keys($this->texts ?? []) as $field) {
            if (true !== Field::tryFrom((string) $field)?->isTyped()) {
                $context->buildViolation('must be texts by the names of fields')->atPath('texts')->addViolation();
            }
        }
    }
}
