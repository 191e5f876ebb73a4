<?php

declare(strict_types=1);

namespace Velvet\Server\Watch;

use Symfony\Component\DependencyInjection\Attribute\Autowire;
use Velvet\Server\Work\Sheets\SheetRefused;

/** The demo's pages need no key, so they see and use nothing but the demo: its folder is a fence around them. */
final readonly class DemoFence
{
    public function __construct(
        #[Autowire('%env(default::VELVET_FENCE)%')]
        private ?string $folder,
    ) {
    }

    /** The outermost folder that pages may look into. */
    public function top(): string
    {
        return null === $this->folder || '' === $this->folder ? '/' : $this->folder;
    }

    /** Whether a folder does not lie outside, links followed; what is not there lies nowhere. */
    public function holds(string $path): bool
    {
        $real = realpath($path);

        return '/' === $this->top()
            || false === $real
            || str_starts_with($real.'/', realpath($this->top()).'/');
    }

    /** @throws SheetRefused */
    public function mustHold(?string ...$paths): void
    {
        foreach ($paths as $path) {
            if (null !== $path && !$this->holds($path)) {
                throw SheetRefused::outsideTheDemo($path, $this->top());
            }
        }
    }
}
