<?php

declare(strict_types=1);

namespace Velvet\Server\Entity;

use Doctrine\ORM\Mapping as ORM;
use Velvet\Core\Transfer\MountPoint;

/** A root folder that shoots are filed under, and its twin on another drive. */
#[ORM\Entity]
#[ORM\Table('shelf')]
class Shelf
{
    #[ORM\Id, ORM\GeneratedValue('IDENTITY'), ORM\Column]
    public ?int $id = null;

    /** @var array<string, string> where the drive of each root was mounted, by the root */
    #[ORM\Column(type: 'json')]
    public array $mountPoints = [];

    /**
     * @param string      $root     absolute path
     * @param string|null $twinRoot absolute path; null where there is no twin
     */
    public function __construct(
        #[ORM\Column(type: 'text')]
        public string $name,
        #[ORM\Column(type: 'text')]
        public string $root,
        #[ORM\Column(type: 'text', nullable: true)]
        public ?string $twinRoot,
    ) {
    }

    public function id(): int
    {
        return $this->id ?? throw new \LogicException('The shelf is not stored yet.');
    }

    /** Remembers where the drives of its roots are mounted now; they must be there. */
    public function remember(): void
    {
        $this->mountPoints = array_combine($this->roots(), array_map(MountPoint::of(...), $this->roots()));
    }

    /** Whether a root is there, and on the drive that it was on before. */
    public function has(string $root): bool
    {
        return MountPoint::has($root, $this->mountPoints[$root] ?? null);
    }

    /** @return non-empty-list<string> the shelf's root, and its twin's where it has one */
    public function roots(): array
    {
        return null === $this->twinRoot ? [$this->root] : [$this->root, $this->twinRoot];
    }
}
