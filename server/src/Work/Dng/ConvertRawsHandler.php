<?php

declare(strict_types=1);

namespace Velvet\Server\Work\Dng;

use Doctrine\ORM\EntityManagerInterface;
use Symfony\Component\Messenger\Attribute\AsMessageHandler;
use Velvet\Server\Work\Metadata\MetadataQueue;

#[AsMessageHandler]
final readonly class ConvertRawsHandler
{
    public function __construct(
        private Conversions $conversions,
        private MetadataQueue $queue,
        private EntityManagerInterface $entities,
    ) {
    }

    public function __invoke(ConvertRaws $message): void
    {
        try {
            do {
                $did = true === $this->conversions->step(null);
                if (!$did) {
                    $this->conversions->await();
                }
                $this->entities->clear();
            } while ($did || $this->conversions->areUnderWay());
        } finally {
            $this->conversions->stop();
            $this->entities->clear();
        }
        $this->queue->begin(); // what the DNGs are to say
    }
}
