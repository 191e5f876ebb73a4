<?php

declare(strict_types=1);

namespace Velvet\Server\Watch;

use Doctrine\ORM\EntityManagerInterface;
use Psr\Clock\ClockInterface;
use Symfony\Component\DependencyInjection\Attribute\Autowire;
use Symfony\Component\Messenger\MessageBusInterface;
use Velvet\Core\Card\CableMount;
use Velvet\Core\Card\CardSign;
use Velvet\Core\Card\Insertion;
use Velvet\Server\Store\Card;
use Velvet\Server\Store\CardState;
use Velvet\Server\Store\Happenings;
use Velvet\Server\Store\Shelf;
use Velvet\Server\Work\Cards\CardIdentity;
use Velvet\Server\Work\Cards\CardNow;
use Velvet\Server\Work\Cards\KnownCards;
use Velvet\Server\Work\Cards\ReadCard;

/**
 * The places where cards show up. Looking at them notices what was put in, what was taken out, and a card that was
 * exchanged for another or changed while it stays in, also between two runs of the program.
 */
final class Bays
{
    /** Seconds between two walks over a card that stays in; a walk that takes long is repeated less often. */
    private const WALK_EVERY = 2.0;
    private const WALK_SHARE = 30;

    /** @var list<string> */
    private readonly array $roots;

    /** @var array<int, float> when each card is walked again, by its id */
    private array $walkAt = [];

    public function __construct(
        private readonly EntityManagerInterface $entities,
        private readonly MessageBusInterface $bus,
        private readonly Happenings $happenings,
        private readonly ClockInterface $clock,
        private readonly CardNow $now,
        private readonly KnownCards $cards,
        #[Autowire('%env(default::VELVET_BAYS)%')]
        ?string $roots,
    ) {
        $this->roots = array_values(
            array_filter(explode(':', $roots ?? ''), static fn (string $root): bool => '' !== $root),
        );
    }

    /** @return list<string> absolute paths of the folders that are watched */
    public function roots(): array
    {
        return $this->roots;
    }

    /** Compares the bays with what is known; what is new is read in the background. True when anything changed. */
    public function look(): bool
    {
        $there = $this->there();
        $changed = false;
        foreach ($this->entities->getRepository(Card::class)->findAll() as $card) {
            $found = $there[$card->identity] ?? null;
            $root = $found[0] ?? null;
            unset($there[$card->identity]);
            // a card read by path, outside of every bay, is there as long as its folder is
            $present = null !== $root || ($card->present && !$this->isInBay($card->root) && is_dir($card->root));
            if ($present === $card->present) {
                if (null !== $root && $this->isAnother($card)) {
                    $card->putInAt = $this->clock->now();
                    $this->queue($card);
                    $changed = true;
                }
                continue;
            }
            $card->present = $present;
            $changed = true;
            if ($present) {
                $card->root = $root ?? $card->root;
                [$card->label, $card->capacity] = null === $found
                    ? [$card->label, $card->capacity]
                    : [$found[1]->label, $found[1]->capacity];
                $card->putInAt = $this->clock->now();
                $this->queue($card);
            }
        }
        foreach ($there as [$root]) {
            $this->queue($this->cards->orNew($root));
            $changed = true;
        }
        $this->entities->flush();
        $this->entities->clear();
        if ($changed) {
            $this->happenings->tell('bays', []);
        }

        return $changed;
    }

    /** Whether the card is not as it was read any more, or was out since it could not be read. */
    private function isAnother(Card $card): bool
    {
        if (CardState::Read !== $card->state && CardState::Unreadable !== $card->state) {
            return false;
        }
        if (Insertion::at($card->root) !== $card->insertion) {
            return true;
        }
        if (CardState::Unreadable === $card->state) {
            return false;
        }
        $since = microtime(true);
        if ($since < ($this->walkAt[$card->id()] ?? 0.0)) {
            return false;
        }
        $difference = $this->now->difference($card);
        $this->walkAt[$card->id()] = microtime(true) + max(
            self::WALK_EVERY,
            self::WALK_SHARE * (microtime(true) - $since),
        );

        return null !== $difference;
    }

    /** What was being read when the program ended is read again. */
    public function resume(): void
    {
        $unread = ['present' => true, 'state' => [CardState::Waiting, CardState::Reading]];
        foreach ($this->entities->getRepository(Card::class)->findBy($unread) as $card) {
            $this->queue($card);
        }
        $this->entities->flush();
    }

    private function queue(Card $card): void
    {
        $card->state = CardState::Waiting;
        $card->problem = null;
        $this->entities->flush();
        $this->bus->dispatch(new ReadCard($card->id()));
    }

    /** @return array<string, array{string, CardIdentity}> root and identity, by the latter */
    private function there(): array
    {
        $shelves = $this->entities->getRepository(Shelf::class)->findAll();
        $found = [];
        foreach ($this->roots as $bay) {
            $names = is_dir($bay) ? @scandir($bay) : false;
            foreach (false === $names ? [] : $names as $name) {
                foreach ('.' === $name[0] ? [] : CableMount::storages($bay.'/'.$name) as $root) {
                    if (is_dir($root) && !$this->holdsShelf($root, $shelves) && CardSign::isOn($root)) {
                        $identity = CardIdentity::of($root);
                        $found[$identity->id] = [$root, $identity];
                    }
                }
            }
        }

        return $found;
    }

    /** @param list<Shelf> $shelves */
    private function holdsShelf(string $root, array $shelves): bool
    {
        $real = (string) realpath($root); // a bay may be reached through a link
        foreach ($shelves as $shelf) {
            foreach ($shelf->roots() as $shelfRoot) {
                if (str_starts_with($shelfRoot.'/', $root.'/') || str_starts_with($shelfRoot.'/', $real.'/')) {
                    return true;
                }
            }
        }

        return false;
    }

    private function isInBay(string $root): bool
    {
        return \in_array(\dirname($root), $this->roots, true)
            || (null !== CableMount::label($root) && \in_array(\dirname($root, 2), $this->roots, true));
    }
}
