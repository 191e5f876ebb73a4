<?php

declare(strict_types=1);

namespace Velvet\Core\Plan;

use Velvet\Core\Keyword\KeywordPath;
use Velvet\Core\Naming\ShootNaming;
use Velvet\Core\Style\DngChoice;

/** An entry as the plan takes it: its frames in capture order, its day and what it is called. */
final readonly class EntryToFile
{
    /**
     * @param string|null       $day        `YYYY-MM-DD`; null for frames without any date
     * @param list<FrameToFile> $frames
     * @param string|null       $intoFolder the folder of a shoot that is there already, relative to the shelf; null: a
     *                                      new one by the style
     * @param string            $rights     the name of one of the style's rights sets; empty: what the style says for
     *                                      all
     * @param list<KeywordPath> $keywords
     * @param DngChoice|null    $dng        null: what the style says
     */
    public function __construct(
        public int $number,
        public ?string $day,
        public string $name,
        public array $frames,
        public string $kind = '',
        public string $client = '',
        public ?string $intoFolder = null,
        public string $description = '',
        public string $rights = '',
        public array $keywords = [],
        public ?DngChoice $dng = null,
    ) {
    }

    public function naming(string $initials): ShootNaming
    {
        return new ShootNaming($this->day, $this->name, $this->kind, $this->client, $initials);
    }
}
