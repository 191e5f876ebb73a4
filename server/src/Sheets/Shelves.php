<?php

declare(strict_types=1);

namespace Velvet\Server\Sheets;

use Doctrine\ORM\EntityManagerInterface;
use Velvet\Server\Entity\Card;
use Velvet\Server\Entity\Shelf;

/** The shelves: found by their folder, made known when they are first used. */
final readonly class Shelves
{
    public function __construct(private EntityManagerInterface $entities)
    {
    }

    /**
     * The shelf at a folder, with the twin that is asked for; both folders are made where they are missing.
     *
     * @param list<string> $cards roots of cards, on which no shelf may lie
     *
     * @throws SheetRefused
     */
    public function at(string $root, ?string $twin, array $cards, ?string $name = null): Shelf
    {
        $this->mustBeApart($root, $twin, $cards);
        $repository = $this->entities->getRepository(Shelf::class);
        $shelf = $repository->findOneBy(['root' => $root]);
        foreach (array_filter([$root, $twin], is_string(...)) as $place) {
            // a known one that is gone must not be made anew where its drive had been
            $isThere = isset($shelf?->mountPoints[$place]) ? $shelf->has($place) : is_dir($place) || @mkdir($place, 0o777, true);
            if (!$isThere) {
                throw SheetRefused::shelfMissing($place);
            }
        }
        if (null === $shelf) {
            $shelf = new Shelf($this->freeName($name ?? basename($root)), $root, $twin);
            $this->entities->persist($shelf);
        }
        $shelf->twinRoot = $twin;
        $shelf->remember();
        $this->entities->flush();

        return $shelf;
    }

    /**
     * A new shelf, chosen by looking: its folders are there already.
     *
     * @throws SheetRefused
     */
    public function add(string $name, string $root, ?string $twin): Shelf
    {
        $this->mustBeUsable($root, $twin);
        if (null !== $this->entities->getRepository(Shelf::class)->findOneBy(['root' => $root])) {
            throw SheetRefused::shelfKnown($root);
        }

        return $this->at($root, $twin, [], '' === trim($name) ? null : mb_substr(trim($name), 0, 60));
    }

    /** @throws SheetRefused */
    public function change(Shelf $shelf, string $name, ?string $twin): void
    {
        $this->mustBeUsable($shelf->root, $twin);
        foreach ([$shelf->root, $twin] as $place) {
            if (null !== $place && !$shelf->has($place)) {
                throw SheetRefused::shelfMissing($place);
            }
        }
        $this->mustBeApart($shelf->root, $twin, []);
        $name = mb_substr(trim($name), 0, 60);
        $shelf->name = '' === $name || $name === $shelf->name ? $shelf->name : $this->freeName($name);
        $shelf->twinRoot = $twin;
        $shelf->remember();
        $this->entities->flush();
    }

    /** @throws SheetRefused */
    private function mustBeUsable(string $root, ?string $twin): void
    {
        foreach (array_filter([$root, $twin], is_string(...)) as $place) {
            if (!str_starts_with($place, '/') || !is_dir($place) || !is_writable($place)) {
                throw SheetRefused::shelfMissing($place);
            }
        }
    }

    /**
     * @param list<string> $cards
     *
     * @throws SheetRefused
     */
    private function mustBeApart(string $root, ?string $twin, array $cards): void
    {
        if (null !== $twin && (str_starts_with($root.'/', $twin.'/') || str_starts_with($twin.'/', $root.'/'))) {
            throw $root === $twin ? SheetRefused::sameTwin($root) : SheetRefused::twinInside($root, $twin);
        }
        foreach (array_filter([$root, $twin], is_string(...)) as $place) {
            foreach ([...$cards, ...array_map(static fn (Card $card): string => $card->root, $this->entities->getRepository(Card::class)->findBy(['present' => true]))] as $card) {
                if (str_starts_with($place.'/', $card.'/')) {
                    throw SheetRefused::shelfOnCard($place);
                }
            }
        }
    }

    private function freeName(string $wanted): string
    {
        $repository = $this->entities->getRepository(Shelf::class);
        $name = $wanted;
        for ($n = 2; null !== $repository->findOneBy(['name' => $name]); ++$n) {
            $name = $wanted.' '.$n;
        }

        return $name;
    }
}
