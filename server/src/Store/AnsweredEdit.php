<?php

declare(strict_types=1);

namespace Velvet\Server\Store;

use Doctrine\ORM\Mapping as ORM;

/** An edit of a sheet that was done, by the key under which it was asked for. */
#[ORM\Entity]
#[ORM\Table('answered_edit')]
class AnsweredEdit
{
    public function __construct(
        #[ORM\Id, ORM\Column(name: 'intake_id', type: 'bigint')]
        public readonly int $intake,
        #[ORM\Id, ORM\Column(type: 'text')]
        public readonly string $key,
        #[ORM\Column(type: 'datetimetz_immutable')]
        public readonly \DateTimeImmutable $answeredAt,
    ) {
    }
}
