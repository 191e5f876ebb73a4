<?php

declare(strict_types=1);

namespace Velvet\Core\Metadata;

/** What the packet's history tells of a writing (xmpMM:History; ISO 16684-1, 8.5). */
final readonly class History
{
    public const AGENT = 'Velvet Ledger';

    /** @param string $parameters what was done, in words */
    public function __construct(public \DateTimeImmutable $at, public string $parameters = 'metadata written, the picture untouched')
    {
    }

    public function addTo(XmpPacket $packet): void
    {
        $packet->addHistory('saved', $this->at->format('c'), self::AGENT, $this->parameters);
        $packet->setSimple('xmp:MetadataDate', $this->at->format('c'));
    }
}
