<?php

declare(strict_types=1);

namespace Velvet\Server\Store;

use Doctrine\ORM\Mapping as ORM;
use Velvet\Core\Shoot\Day;

/** A dated folder of frames on a shelf. */
#[ORM\Entity]
#[ORM\Table('shoot')]
class Shoot
{
    #[ORM\Id, ORM\GeneratedValue('IDENTITY'), ORM\Column]
    public ?int $id = null;

    /** Number of the latest change of what its frames say, or of the verdict on them. */
    #[ORM\Column]
    public int $turn = 0;

    /**
     * @param string      $folder relative to the shelf
     * @param Day|null    $day    `YYYY-MM-DD`
     */
    public function __construct(
        #[ORM\ManyToOne, ORM\JoinColumn(nullable: false)]
        public readonly Shelf $shelf,
        #[ORM\Column(type: 'text')]
        public string $folder,
        #[ORM\Column(type: 'text')]
        public string $name,
        #[ORM\Column(type: 'day', nullable: true)]
        public ?Day $day,
        #[ORM\Column(type: 'datetimetz_immutable')]
        public readonly \DateTimeImmutable $createdAt,
    ) {
    }

    public function id(): int
    {
        return $this->id ?? throw new \LogicException('The shoot is not stored yet.');
    }
}
