<?php

declare(strict_types=1);

namespace Velvet\Server\Store;

use Doctrine\ORM\Mapping as ORM;

/** A frame of an intake that is not copied: filed already, left out, unreadable, or equal to another one. */
#[ORM\Entity]
#[ORM\Table('skipped')]
class SkippedFrame
{
    /**
     * @param int          $position   of the frame in its entry, from 0
     * @param string       $path       of its first file on the card
     * @param int          $files      how many
     * @param int          $bytes      of all of them
     * @param string|null  $picture    key of the picture to be shown
     * @param string|null  $capturedAt `YYYY-MM-DD HH:MM:SS.mmm`, corrected
     * @param array<mixed> $facts      as the sheet shows them
     * @param string       $state      `filed`, `left_out`, `unreadable`; `failed` where it should equal one and does
     *                                 not
     * @param string       $sameAs     path on the shelf; empty: none
     * @param string       $problem    a sentence; empty: none
     */
    public function __construct(
        #[ORM\Id, ORM\Column(name: 'intake_id')]
        public readonly int $intake,
        #[ORM\Id, ORM\Column(name: 'entry_id')]
        public readonly int $entry,
        #[ORM\Id, ORM\Column(name: 'frame_position')]
        public readonly int $position,
        #[ORM\Column(type: 'text')]
        public readonly string $path,
        #[ORM\Column]
        public readonly int $files,
        #[ORM\Column(type: 'bigint')]
        public readonly int $bytes,
        #[ORM\Column(type: 'text', nullable: true)]
        public readonly ?string $picture,
        #[ORM\Column(type: 'moment', nullable: true)]
        public readonly ?string $capturedAt,
        #[ORM\Column(type: 'json_object')]
        public readonly array $facts,
        #[ORM\Column(type: 'text')]
        public readonly string $state,
        #[ORM\Column(type: 'text')]
        public readonly string $sameAs,
        #[ORM\Column(type: 'text')]
        public readonly string $problem,
    ) {
    }
}
