<?php

declare(strict_types=1);

namespace Velvet\Server\Store;

use Doctrine\ORM\Mapping as ORM;

/** A memory card, or any folder treated as one, as it was last seen in a bay. */
#[ORM\Entity]
#[ORM\Table('card')]
class Card
{
    #[ORM\Id, ORM\GeneratedValue('IDENTITY'), ORM\Column]
    public ?int $id = null;

    #[ORM\Column]
    public bool $present = true;

    #[ORM\Column(enumType: CardState::class)]
    public CardState $state = CardState::Waiting;

    #[ORM\Column(type: 'text', nullable: true)]
    public ?string $problem = null;

    #[ORM\Column]
    public int $files = 0;

    #[ORM\Column(type: 'bigint')]
    public int $bytes = 0;

    /** How much fits on it; null where it is a folder of a larger file system. */
    #[ORM\Column(type: 'bigint', nullable: true)]
    public ?int $capacity = null;

    #[ORM\Column]
    public int $frames = 0;

    #[ORM\Column]
    public int $framesRead = 0;

    /**
     * The stay in its reader in which it was read, or could not be, as {@see \Velvet\Core\Card\Insertion} tells them
     * apart.
     */
    #[ORM\Column(type: 'text', nullable: true)]
    public ?string $insertion = null;

    /** {@see \Velvet\Core\Card\CardListing::seal()} of what was read. */
    #[ORM\Column(type: 'text', nullable: true)]
    public ?string $listing = null;

    /** The photographer's word that two copies on one drive are enough for what is on it. */
    #[ORM\Column]
    public bool $oneDriveIsEnough = false;

    /** @var list<array{code: string, path: string, text: string, behind: bool}> */
    #[ORM\Column(type: 'json')]
    public array $problems = [];

    #[ORM\Column(type: 'datetimetz_immutable', nullable: true)]
    public ?\DateTimeImmutable $readAt = null;

    /**
     * @param string $identity tells this card from others when it comes back
     * @param string $root     absolute path at which it can be read
     */
    public function __construct(
        #[ORM\Column(type: 'text')]
        public readonly string $identity,
        #[ORM\Column(type: 'text')]
        public string $label,
        #[ORM\Column(type: 'text')]
        public string $root,
        #[ORM\Column(type: 'datetimetz_immutable')]
        public \DateTimeImmutable $putInAt,
    ) {
    }

    public function id(): int
    {
        return $this->id ?? throw new \LogicException('The card is not stored yet.');
    }
}
