<?php

declare(strict_types=1);

namespace Velvet\Server\Store;

use Doctrine\ORM\Mapping as ORM;
use Velvet\Core\Shoot\Day;
use Velvet\Core\Shoot\EntryWords;

/** A shoot-to-be on a sheet. Its frames are rows of `entry_frame`. */
#[ORM\Entity]
#[ORM\Table('entry')]
class Entry
{
    #[ORM\Id, ORM\GeneratedValue('IDENTITY'), ORM\Column]
    public ?int $id = null;

    #[ORM\Column(type: 'text')]
    public string $name = '';

    /** What kind of shoot, and for whom; for names that say so. */
    #[ORM\Column(type: 'text')]
    public string $kind = '';

    #[ORM\Column(type: 'text')]
    public string $client = '';

    /** The journey or event that several shoots belong to; for names that say so. */
    #[ORM\Column(type: 'text', options: ['default' => ''])]
    public string $trip = '';

    /** Whether the frames around its time-lapse go into a folder of their own. */
    #[ORM\Column(options: ['default' => false])]
    public bool $strays = false;

    /** What its frames show, written into them. */
    #[ORM\Column(type: 'text')]
    public string $description = '';

    /** One of the style's rights sets; empty: what the style says for all. */
    #[ORM\Column(type: 'text')]
    public string $rights = '';

    /** A value of {@see \Velvet\Core\Style\DngChoice}; empty: what the style says. */
    #[ORM\Column(type: 'text')]
    public string $dng = '';

    /** @var list<int> ids of the catalogue's */
    #[ORM\Column(type: 'json', options: ['jsonb' => true])]
    public array $keywords = [];

    /** The shoot that is there already and takes these frames; null: a new one, or the one whose folder is the same. */
    #[ORM\ManyToOne]
    public ?Shoot $intoShoot = null;

    /** Relative to the shelf; settled when the copy starts. */
    #[ORM\Column(type: 'text', nullable: true)]
    public ?string $folder = null;

    #[ORM\ManyToOne]
    public ?Shoot $shoot = null;

    /** @param Day|null    $day `YYYY-MM-DD` */
    public function __construct(
        #[ORM\ManyToOne(inversedBy: 'entries'), ORM\JoinColumn(nullable: false)]
        public readonly Intake $intake,
        #[ORM\Column]
        public int $number,
        #[ORM\Column(type: 'day', nullable: true)]
        public ?Day $day,
    ) {
    }

    public function words(): EntryWords
    {
        return new EntryWords(
            $this->name,
            $this->kind,
            $this->client,
            $this->description,
            $this->rights,
            $this->keywords,
            $this->dng,
            $this->trip,
            $this->strays,
        );
    }

    public function say(EntryWords $words): void
    {
        $this->name = $words->name;
        $this->kind = $words->kind;
        $this->client = $words->client;
        $this->description = $words->description;
        $this->rights = $words->rights;
        $this->keywords = $words->keywords;
        $this->dng = $words->dng;
        $this->trip = $words->trip;
        $this->strays = $words->strays;
    }

    public function id(): int
    {
        return $this->id ?? throw new \LogicException('The entry is not stored yet.');
    }
}
