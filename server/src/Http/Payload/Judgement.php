<?php

declare(strict_types=1);

namespace Velvet\Server\Http\Payload;

use Symfony\Component\Validator\Constraints as Assert;
use Velvet\Core\Filed\Rotation;
use Velvet\Core\Filed\Verdict;

final readonly class Judgement extends Selection
{
    /**
     * @param non-empty-list<int>|null $frames null: all of the shoot
     * @param list<int>                $struck others, which are struck by the same stroke
     * @param list<int>                $tabs   ids of those that the frames get
     * @param list<int>                $untab  ids of those that they lose
     * @param Rotation|null            $rotate pictures, each from how it is shown
     * @param string|null              $by     who judges; null where it is not said
     * @param list<int>                $except
     * @param string|null              $operation a UUID by which it is known when it is sent a second time
     */
    public function __construct(
        ?array $frames = null,
        public ?Verdict $verdict = null,
        #[Assert\Range(notInRangeMessage: 'must be a number from 0 to 5', min: 0, max: 5)]
        public ?int $stars = null,
        public array $struck = [],
        public array $tabs = [],
        public array $untab = [],
        public ?Rotation $rotate = null,
        #[Assert\Length(min: 1, max: 60, minMessage: 'must be a name', maxMessage: 'must be of 60 characters at most')]
        public ?string $by = null,
        #[Assert\Uuid(message: 'must be a UUID')]
        public ?string $operation = null,
        array $except = [],
        ?int $of = null,
    ) {
        parent::__construct($frames, $except, $of);
    }
}
