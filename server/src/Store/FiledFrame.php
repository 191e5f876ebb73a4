<?php

declare(strict_types=1);

namespace Velvet\Server\Store;

use Doctrine\ORM\Mapping as ORM;
use Velvet\Core\Filed\Verdict;
use Velvet\Core\Filed\Whereabouts;

/** A frame whose files are filed, and what is said of it. */
#[ORM\Entity]
#[ORM\Table('filed_frame')]
class FiledFrame
{
    #[ORM\Id, ORM\GeneratedValue('IDENTITY'), ORM\Column(type: 'bigint')]
    public ?int $id = null;

    #[ORM\Column(enumType: Verdict::class)]
    public Verdict $verdict = Verdict::Open;

    /** Who gave the verdict or the rating; null where it was not said. */
    #[ORM\Column(type: 'text', nullable: true)]
    public ?string $judgedBy = null;

    #[ORM\Column(enumType: Whereabouts::class)]
    public Whereabouts $whereabouts = Whereabouts::InShoot;

    /** -1 to 5; null where nobody rated it. */
    #[ORM\Column(type: 'smallint', nullable: true)]
    public ?int $rating = null;

    /** @var list<int> ids of its {@see Tabs}, in their order */
    #[ORM\Column(type: 'json', options: ['jsonb' => true])]
    public array $tabs = [];

    /** @var array<string, mixed>|null what its files said themselves when they came; null until they were asked */
    #[ORM\Column(type: 'json_object', nullable: true)]
    public ?array $own = null;

    /**
     * @param string|null           $capturedAt `YYYY-MM-DD HH:MM:SS.mmm`, as the camera's clock was corrected
     * @param array<mixed>          $facts      as the sheet had them
     * @param string|null           $picture    key of the picture to be shown
     * @param string                $stem       its files' name without extension
     * @param array<string, string> $says       by the value of the field
     * @param bool                  $loose      whether it is no frame, but the loose files of a card taken together
     */
    public function __construct(
        #[ORM\ManyToOne, ORM\JoinColumn(nullable: false)]
        public readonly Shoot $shoot,
        #[ORM\Column(type: 'moment', nullable: true)]
        public readonly ?string $capturedAt,
        #[ORM\Column(type: 'json_object')]
        public readonly array $facts,
        #[ORM\Column(type: 'text', nullable: true)]
        public readonly ?string $picture,
        #[ORM\Column(type: 'text')]
        public readonly string $stem,
        #[ORM\Column(nullable: true)]
        public readonly ?int $counter,
        #[ORM\Column(type: 'json_object')]
        public array $says,
        #[ORM\Column]
        public readonly bool $loose = false,
    ) {
    }

    public function id(): int
    {
        return $this->id ?? throw new \LogicException('The frame is not stored yet.');
    }
}
