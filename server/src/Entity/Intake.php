<?php

declare(strict_types=1);

namespace Velvet\Server\Entity;

use Doctrine\Common\Collections\ArrayCollection;
use Doctrine\Common\Collections\Collection;
use Doctrine\ORM\Mapping as ORM;
use Velvet\Server\Intakes\IntakeState;

/** Taking cards in: first a sheet that is planned on, then the copy, then the receipt. One number for all three. */
#[ORM\Entity]
#[ORM\Table('intake')]
class Intake
{
    #[ORM\Id, ORM\GeneratedValue('IDENTITY'), ORM\Column]
    public ?int $id = null;

    #[ORM\Column(enumType: IntakeState::class)]
    public IntakeState $state = IntakeState::Sheet;

    #[ORM\ManyToOne]
    public ?Shelf $shelf = null;

    #[ORM\Column(type: 'datetimetz_immutable', nullable: true)]
    public ?\DateTimeImmutable $startedAt = null;

    #[ORM\Column(type: 'datetimetz_immutable', nullable: true)]
    public ?\DateTimeImmutable $finishedAt = null;

    /** Seconds of work so far, pauses not counted. */
    #[ORM\Column]
    public float $seconds = 0.0;

    /** @var Collection<int, Card> */
    #[ORM\ManyToMany(targetEntity: Card::class), ORM\JoinTable('intake_card')]
    public Collection $cards;

    /** @var Collection<int, Entry> */
    #[ORM\OneToMany(targetEntity: Entry::class, mappedBy: 'intake', cascade: ['persist']), ORM\OrderBy(['number' => 'ASC'])]
    public Collection $entries;

    /**
     * @param list<Card> $cards
     * @param string     $dayStarts  `HH:MM`
     * @param int|null   $breakAfter minutes; null: pauses do not divide
     */
    public function __construct(
        array $cards,
        #[ORM\Column(type: 'text')]
        public string $dayStarts,
        #[ORM\Column(nullable: true)]
        public ?int $breakAfter,
        #[ORM\Column(type: 'datetimetz_immutable')]
        public readonly \DateTimeImmutable $openedAt,
    ) {
        $this->cards = new ArrayCollection($cards);
        $this->entries = new ArrayCollection();
    }

    public function id(): int
    {
        return $this->id ?? throw new \LogicException('The intake is not stored yet.');
    }

    public function shelf(): Shelf
    {
        return $this->shelf ?? throw new \LogicException('The intake has no shelf yet.');
    }
}
