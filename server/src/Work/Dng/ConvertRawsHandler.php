<?php

declare(strict_types=1);

namespace Velvet\Server\Work\Dng;

use Doctrine\ORM\EntityManagerInterface;
use Symfony\Component\Messenger\Attribute\AsMessageHandler;
use Velvet\Server\Work\Metadata\MetadataQueue;

#[AsMessageHandler]
final readonly class ConvertRawsHandler
{
    private const POLL = 20_000; // microseconds

    public function __construct(
        private Conversions $conversions,
        private MetadataQueue $queue,
        private EntityManagerInterface $entities,
    ) {
    }

    public function __invoke(ConvertRaws $message): void
    {
        try {
            while (true === $this->conversions->step(null) || $this->conversions->areUnderWay()) {
                usleep(self::POLL);
                $this->entities->clear();
            }
        } finally {
            $this->conversions->stop();
            $this->entities->clear();
        }
        $this->queue->begin(); // what the DNGs are to say
    }
}
