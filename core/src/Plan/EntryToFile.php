<?php

declare(strict_types=1);

namespace Velvet\Core\Plan;

use Velvet\Core\Capture\Exposed;
use Velvet\Core\Keyword\KeywordPath;
use Velvet\Core\Naming\FrameNaming;
use Velvet\Core\Naming\ShootFrames;
use Velvet\Core\Naming\ShootNaming;
use Velvet\Core\Shoot\Day;
use Velvet\Core\Shoot\Sequences;
use Velvet\Core\Shoot\Strays;
use Velvet\Core\Style\DngChoice;
use Velvet\Core\Style\HouseStyle;

/** An entry as the plan takes it: its frames in capture order, its day and what it is called. */
final class EntryToFile
{
    /** What its frames tell of it; worked out once. */
    private ?ShootFrames $told = null;

    /**
     * @param Day|null          $day        null for frames without any date
     * @param list<FrameToFile> $frames
     * @param string|null       $intoFolder the folder of a shoot that is there already, relative to the shelf; null: a
     *                                      new one by the style
     * @param string            $rights     the name of one of the style's rights sets; empty: what the style says for
     *                                      all
     * @param list<KeywordPath> $keywords
     * @param DngChoice|null    $dng        null: what the style says
     * @param bool              $straysAside whether the frames around its time-lapse go into a folder of their own
     */
    public function __construct(
        public readonly int $number,
        public readonly ?Day $day,
        public readonly string $name,
        public readonly array $frames,
        public readonly string $kind = '',
        public readonly string $client = '',
        public readonly ?string $intoFolder = null,
        public readonly string $description = '',
        public readonly string $rights = '',
        public readonly array $keywords = [],
        public readonly ?DngChoice $dng = null,
        public readonly string $trip = '',
        public readonly bool $straysAside = false,
    ) {
    }

    /**
     * As it is named by a style: its frames know their places in brackets, bursts and time-lapses where that matters.
     */
    public function inRuns(HouseStyle $style): self
    {
        $exposed = array_map(static fn (FrameToFile $frame): ?Exposed => $frame->exposed, $this->frames);
        if (!$style->asksForRuns() || [] === array_filter($exposed)) {
            return $this;
        }
        $unknown = new Exposed(null, '', null, null);
        $places = Sequences::places(
            array_map(static fn (?Exposed $one): Exposed => $one ?? $unknown, $exposed),
        );
        $frames = [];
        foreach ($this->frames as $position => $frame) {
            $frames[] = $frame->inRun($places[$position] ?? null);
        }

        return new self(
            $this->number,
            $this->day,
            $this->name,
            $frames,
            $this->kind,
            $this->client,
            $this->intoFolder,
            $this->description,
            $this->rights,
            $this->keywords,
            $this->dng,
            $this->trip,
            $this->straysAside,
        );
    }

    /** @return array<int, true> the frames that go into a folder of their own, by their place */
    public function strays(): array
    {
        if (!$this->straysAside) {
            return [];
        }
        $exposed = [];
        foreach ($this->frames as $frame) {
            if (!$frame->isLoose()) { // they come behind all frames
                $exposed[] = $frame->exposed ?? new Exposed(null, '', null, null);
            }
        }

        return array_fill_keys(Strays::around(\count($exposed), Sequences::in($exposed)), true);
    }

    public function naming(string $initials): ShootNaming
    {
        $this->told ??= ShootFrames::of(array_map(
            static fn (FrameToFile $frame): FrameNaming => $frame->naming,
            array_values(array_filter($this->frames, static fn (FrameToFile $frame): bool => !$frame->isLoose())),
        ));

        return new ShootNaming(
            $this->day,
            $this->name,
            $this->kind,
            $this->client,
            $initials,
            $this->trip,
            $this->told,
        );
    }
}
