<?php

declare(strict_types=1);

namespace Velvet\Server\Store;

/** Something that happened, as a server-sent event. */
final readonly class Happening
{
    /** @param string $payload JSON without line breaks */
    public function __construct(public int $id, public string $topic, public string $payload)
    {
    }

    public function event(): string
    {
        return \sprintf("id: %d\nevent: %s\ndata: %s\n\n", $this->id, $this->topic, $this->payload);
    }
}
