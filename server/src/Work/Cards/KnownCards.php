<?php

declare(strict_types=1);

namespace Velvet\Server\Work\Cards;

use Doctrine\ORM\EntityManagerInterface;
use Psr\Clock\ClockInterface;
use Velvet\Server\Store\Card;
use Velvet\Server\Store\Lock;
use Velvet\Server\Store\Locks;

/** Cards by the folder at which they are read. */
final readonly class KnownCards
{
    public function __construct(
        private EntityManagerInterface $entities,
        private ClockInterface $clock,
        private Locks $locks,
    ) {
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
        // a page and commands may meet the same card at the same time
        return $this->locks->with(Lock::BecomingKnown, 0, function () use ($root): Card {
            $card = $this->at($root) ?? $this->new(CardIdentity::of($root), $root);
            $card->present = is_dir($root);
            $this->entities->flush();

            return $card;
        });
    }

    private function new(CardIdentity $identity, string $root): Card
    {
        $card = new Card($identity->id, $identity->label, $root, $this->clock->now());
        $card->capacity = $identity->capacity;
        $this->entities->persist($card);

        return $card;
    }
}
