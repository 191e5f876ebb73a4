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
        if ($root === $twin) {
            throw SheetRefused::sameTwin($root);
        }
        foreach (array_filter([$root, $twin], is_string(...)) as $place) {
            foreach ([...$cards, ...array_map(static fn (Card $card): string => $card->root, $this->entities->getRepository(Card::class)->findBy(['present' => true]))] as $card) {
                if (str_starts_with($place.'/', $card.'/')) {
                    throw SheetRefused::shelfOnCard($place);
                }
            }
            if (!is_dir($place) && !@mkdir($place, 0o777, true)) {
                throw SheetRefused::shelfMissing($place);
            }
        }
        $repository = $this->entities->getRepository(Shelf::class);
        $shelf = $repository->findOneBy(['root' => $root]);
        if (null === $shelf) {
            $shelf = new Shelf($this->freeName($name ?? basename($root)), $root, $twin);
            $this->entities->persist($shelf);
        }
        $shelf->twinRoot = $twin;
        $this->entities->flush();

        return $shelf;
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
