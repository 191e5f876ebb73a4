<?php

declare(strict_types=1);

namespace Velvet\Server\Store;

use Velvet\Core\Filed\FrameWords;

/** A change of what frames say, which can be undone. */
final readonly class MetadataStep
{
    /** @param list<FrameWords> $before what its frames said, without what their files said themselves */
    public function __construct(public int $id, public string $label, public array $before)
    {
    }
}
