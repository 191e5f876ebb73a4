<?php

declare(strict_types=1);

namespace Velvet\Server\Store;

use Velvet\Core\Filed\FrameWords;

/** A change of what frames say, which can be undone, or was undone and can be made again. */
final readonly class MetadataStep
{
    /**
     * @param list<FrameWords> $before what its frames said, without what their files said themselves
     * @param list<FrameWords> $after  what they said when it was undone, in the same way; none where it was not
     */
    public function __construct(public int $id, public string $label, public array $before, public array $after)
    {
    }
}
