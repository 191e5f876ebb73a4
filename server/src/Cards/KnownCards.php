<?php

declare(strict_types=1);

namespace Velvet\Server\Cards;

use Doctrine\ORM\EntityManagerInterface;
use Psr\Clock\ClockInterface;
use Velvet\Server\Bays\CardIdentity;
use Velvet\Server\Entity\Card;

/** Cards by the folder at which they are read. */
final readonly class KnownCards
{
    public function __construct(private EntityManagerInterface $entities, private ClockInterface $clock)
    {
    }

    /** The card at a folder, if it was read here before; what is known of its place is brought up to date. */
    public function at(string $root): ?Card
    {
        $identity = CardIdentity::of($root);
        $card = $this->entities->getRepository(Card::class)->findOneBy(['identity' => $identity->id]);
        if (null !== $card) {
            $card->root = $root;
            $card->capacity = $identity->capacity;
        }

        return $card;
    }

    /** The card at a folder, made known where it is not. */
    public function orNew(string $root): Card
    {
        $card = $this->at($root);
        if (null === $card) {
            $identity = CardIdentity::of($root);
            $card = new Card($identity->id, $identity->label, $root, $this->clock->now());
            $card->capacity = $identity->capacity;
            $this->entities->persist($card);
        }
        $card->present = is_dir($root);

        return $card;
    }
}
