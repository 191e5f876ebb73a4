<?php

declare(strict_types=1);

namespace Velvet\Server\Store;

use Doctrine\ORM\Mapping as ORM;
use Velvet\Core\Filed\Verdict;

/** What somebody says of a frame beside its verdict. */
#[ORM\Entity]
#[ORM\Table('mark')]
class Mark
{
    /** @param int|null $rating 0 to 5; null: none was given */
    public function __construct(
        #[ORM\Id, ORM\Column(name: 'frame_id', type: 'bigint')]
        public readonly int $frame,
        #[ORM\Id, ORM\Column(type: 'text')]
        public readonly string $judgedBy,
        #[ORM\Column(enumType: Verdict::class)]
        public readonly Verdict $verdict,
        #[ORM\Column(type: 'smallint', nullable: true)]
        public readonly ?int $rating,
    ) {
    }
}
