<?php

declare(strict_types=1);

namespace Velvet\Server\Work\Reading;

use Doctrine\ORM\EntityManagerInterface;
use Symfony\Component\Messenger\Attribute\AsMessageHandler;
use Velvet\Server\Store\Card;
use Velvet\Server\Work\Cards\ReadCard;

#[AsMessageHandler]
final readonly class ReadCardHandler
{
    public function __construct(private EntityManagerInterface $entities, private CardReading $reading)
    {
    }

    public function __invoke(ReadCard $message): void
    {
        $card = $this->entities->find(Card::class, $message->cardId);
        if (null !== $card && $card->present) {
            $this->reading->read($card);
        }
        $this->entities->clear();
    }
}
