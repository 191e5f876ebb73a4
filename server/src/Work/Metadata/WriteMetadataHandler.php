<?php

declare(strict_types=1);

namespace Velvet\Server\Work\Metadata;

use Doctrine\ORM\EntityManagerInterface;
use Symfony\Component\Messenger\Attribute\AsMessageHandler;

#[AsMessageHandler]
final readonly class WriteMetadataHandler
{
    /** Files between two words to the browsers. */
    private const TELL_EVERY = 10;

    public function __construct(
        private MetadataWriting $writing,
        private MetadataQueue $queue,
        private EntityManagerInterface $entities,
    ) {
    }

    public function __invoke(WriteMetadata $message): void
    {
        $written = 0;
        while ($this->writing->nextAnywhere()) {
            if (0 === $written++ % self::TELL_EVERY) {
                $this->queue->tell();
            }
        }
        $this->entities->clear();
        if ($written > 0) {
            $this->queue->tell();
        }
    }
}
