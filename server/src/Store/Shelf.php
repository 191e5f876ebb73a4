<?php

declare(strict_types=1);

namespace Velvet\Server\Store;

use Doctrine\ORM\Mapping as ORM;
use Velvet\Core\Copy\Drives;
use Velvet\Core\Drive\DriveTable;

/** A root folder that shoots are filed under, and its twin on another drive. */
#[ORM\Entity]
#[ORM\Table('shelf')]
class Shelf
{
    #[ORM\Id, ORM\GeneratedValue('IDENTITY'), ORM\Column]
    public ?int $id = null;

    /**
     * @var array<string, array{id: string, point: string}> the drive of each root, as {@see Drives::toArray()} writes
     * it
     */
    #[ORM\Column(type: 'json', options: ['jsonb' => true])]
    public array $drives = [];

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

    /** Remembers the drives of its roots; they must be there. */
    public function remember(DriveTable $table): void
    {
        $this->drives = Drives::at($table, $this->roots())->toArray();
    }

    public function drives(DriveTable $table): Drives
    {
        return Drives::fromRecord($table, $this->drives);
    }

    /** @return non-empty-list<string> the shelf's root, and its twin's where it has one */
    public function roots(): array
    {
        return null === $this->twinRoot ? [$this->root] : [$this->root, $this->twinRoot];
    }
}
