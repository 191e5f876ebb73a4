<?php

declare(strict_types=1);

namespace Velvet\Server\Store;

use Doctrine\Common\Collections\ArrayCollection;
use Doctrine\Common\Collections\Collection;
use Doctrine\ORM\Mapping as ORM;
use Velvet\Core\Shoot\DayBoundary;
use Velvet\Core\Shoot\DivideBy;
use Velvet\Core\Shoot\Division;
use Velvet\Core\Style\HouseStyle;
use Velvet\Core\Style\Kinds;

/** Taking cards in: first a sheet that is planned on, then the copy, then the receipt. One number for all three. */
#[ORM\Entity]
#[ORM\Table('intake')]
class Intake
{
    #[ORM\Id, ORM\GeneratedValue('IDENTITY'), ORM\Column]
    public ?int $id = null;

    #[ORM\Column(enumType: IntakeState::class)]
    public IntakeState $state = IntakeState::Sheet;

    #[ORM\Column(enumType: DivideBy::class)]
    public DivideBy $divideBy = DivideBy::Day;

    #[ORM\Column(enumType: Kinds::class)]
    public Kinds $kinds = Kinds::Both;

    /** Whether movies and voice notes come along with their frames. */
    #[ORM\Column]
    public bool $companions = true;

    #[ORM\ManyToOne]
    public ?Shelf $shelf = null;

    #[ORM\Column(type: 'datetimetz_immutable', nullable: true)]
    public ?\DateTimeImmutable $startedAt = null;

    #[ORM\Column(type: 'datetimetz_immutable', nullable: true)]
    public ?\DateTimeImmutable $finishedAt = null;

    /** Seconds of work so far, pauses not counted. */
    #[ORM\Column]
    public float $seconds = 0.0;

    /** Why it paused by itself. */
    #[ORM\Column(type: 'text', nullable: true)]
    public ?string $halted = null;

    /** The root that must be there again before it goes on by itself. */
    #[ORM\Column(type: 'text', nullable: true)]
    public ?string $awaits = null;

    /**
     * @var array<string, array{id: string, point: string}> the drives that it began with, as
     * {@see \Velvet\Core\Copy\Drives::toArray()} writes them
     */
    #[ORM\Column(type: 'json', options: ['jsonb' => true])]
    public array $drives = [];

    /** Goes up by one with each edit of the sheet. */
    #[ORM\Column]
    public int $revision = 0;

    /** @var Collection<int, Card> */
    #[ORM\ManyToMany(targetEntity: Card::class), ORM\JoinTable('intake_card')]
    public Collection $cards;

    /** @var Collection<int, Entry> */
    #[ORM\OneToMany(
        targetEntity: Entry::class,
        mappedBy: 'intake',
        cascade: ['persist'],
    ), ORM\OrderBy(['number' => 'ASC'])]
    public Collection $entries;

    #[ORM\Column(type: 'text')]
    public string $style;

    /**
     * @var array<string, mixed>|null the style itself, where it came from a file and is not among those that are kept,
     *     or once the copy began
     */
    #[ORM\Column(type: 'json', nullable: true)]
    public ?array $styleDocument = null;

    /** When a day begins, `HH:MM`. */
    #[ORM\Column(type: 'text')]
    public string $dayStarts;

    /** Minutes; null: pauses do not divide. */
    #[ORM\Column(nullable: true)]
    public ?int $breakAfter = null;

    /** @param list<Card> $cards */
    public function __construct(
        array $cards,
        HouseStyle $style,
        #[ORM\Column(type: 'datetimetz_immutable')]
        public \DateTimeImmutable $openedAt,
    ) {
        $this->cards = new ArrayCollection($cards);
        $this->entries = new ArrayCollection();
        $this->follow($style);
    }

    /** Takes the rules of a style; what was chosen before by hand goes. */
    /** Whether files of a struck frame are said to be rejected; as {@see FiledFrames::writingStruck()} knows it. */
    public function writesStruck(): bool
    {
        $rules = $this->styleDocument['metadata'] ?? null;

        return \is_array($rules) && true === ($rules['writes_struck'] ?? null);
    }

    public function follow(HouseStyle $style): void
    {
        $this->style = $style->name;
        $this->styleDocument = null;
        $this->dividing($style->division);
        $this->kinds = $style->kinds;
        $this->companions = $style->companions;
    }

    public function dividing(Division $division): void
    {
        $this->divideBy = $division->by;
        $this->dayStarts = $division->boundary->text();
        $this->breakAfter = $division->breakAfterMinutes;
    }

    public function division(): Division
    {
        return new Division(
            DayBoundary::at($this->dayStarts),
            null === $this->breakAfter ? null : max(1, $this->breakAfter),
            $this->divideBy,
        );
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
