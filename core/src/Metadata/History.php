<?php

declare(strict_types=1);

namespace Velvet\Core\Metadata;

use Velvet\Core\Bytes\XmpPacket;

/** What the packet's history tells of a writing (xmpMM:History; ISO 16684-1, 8.5). */
final readonly class History
{
    public const AGENT = 'Velvet Ledger';

    /** @param string $parameters what was done, in words */
    public function __construct(
        public \DateTimeImmutable $at,
        public string $parameters = 'metadata written, the picture untouched',
    ) {
    }

    /** @param int $clock seconds by which the camera's clock was corrected; 0 for none */
    public static function of(\DateTimeImmutable $at, int $clock): self
    {
        if (0 === $clock) {
            return new self($at);
        }

        return new self(
            $at,
            \sprintf(
                'metadata written, the picture untouched; clock corrected by %s%d:%02d:%02d, the camera\'s own time '
                    .'stays in Exif',
                $clock < 0 ? '-' : '+',
                intdiv(abs($clock), 3600),
                intdiv(abs($clock), 60) % 60,
                abs($clock) % 60,
            ),
        );
    }

    public function addTo(XmpPacket $packet): void
    {
        $packet->addHistory('saved', $this->at->format('c'), self::AGENT, $this->parameters);
        $packet->setSimple('xmp:MetadataDate', $this->at->format('c'));
    }
}
