<?php

declare(strict_types=1);

namespace Velvet\Server\Http\Payload;

use Symfony\Component\Validator\Constraints as Assert;
use Velvet\Core\Style\Kinds;

final readonly class SheetChange implements Payload
{
    public function __construct(
        public ?int $shelf = null,
        public ?string $style = null,
        #[Assert\Valid]
        public ?Divide $divide = null,
        public ?Kinds $kinds = null,
        public ?bool $companions = null,
    ) {
    }
}
