<?php

declare(strict_types=1);

namespace Velvet\Core\Plan;

use Velvet\Core\Capture\CaptureProblem;
use Velvet\Core\Shoot\BelievableTimes;
use Velvet\Core\Shoot\MarginNote;

/** What is worth a note of a single frame; in the order in which notes stand beside an entry. */
enum FrameConcern
{
    case Unreadable;
    case Damaged;
    case Repairs;
    case Undated;
    case ClockWrong;
    case OtherContent;
    case Black;
    case BlownOut;
    case Blurred;
    case Twice;
    case Filed;

    /** The first that holds; of a frame that stays out only why it does. */
    public static function of(PlannedFrame $planned, FrameLook $look, BelievableTimes $times): ?self
    {
        $shotAt = $planned->frame->naming->shotAt;

        return match (true) {
            [] !== $planned->equals => self::Twice,
            FrameState::Filed === $planned->state() => self::Filed,
            $planned->repairs() => self::Repairs,
            FrameState::Unreadable === $planned->frame->state => self::Unreadable,
            [] !== $look->problems && [] !== array_intersect($look->problems, CaptureProblem::DAMAGE) => self::Damaged,
            \in_array(CaptureProblem::NO_CAPTURE_TIME, $look->problems, true) => self::Undated,
            null !== $shotAt && !$times->have($shotAt) => self::ClockWrong,
            \in_array(CaptureProblem::OTHER_CONTENT, $look->problems, true) => self::OtherContent,
            true === $look->measures?->looksBlack() => self::Black,
            true === $look->measures?->looksBlownOut() => self::BlownOut,
            true === $look->measures?->looksBlurred() => self::Blurred,
            default => null,
        };
    }

    /**
     * @param non-empty-list<int> $positions of the frames that it holds of
     * @param string              $first     what the first of them is called
     */
    public function note(array $positions, string $first): MarginNote
    {
        return match ($this) {
            self::Unreadable => MarginNote::unreadable($positions, $first),
            self::Damaged => MarginNote::damaged($positions, $first),
            self::Repairs => MarginNote::repairs($positions, $first),
            self::Undated => MarginNote::noCaptureDate($positions, $first),
            self::ClockWrong => MarginNote::clockWrong($positions, $first),
            self::OtherContent => MarginNote::otherContent($positions, $first),
            self::Black => MarginNote::looksBlack($positions, $first),
            self::BlownOut => MarginNote::looksBlownOut($positions, $first),
            self::Blurred => MarginNote::looksBlurred($positions, $first),
            self::Twice => MarginNote::onTheSheetTwice($positions, $first),
            self::Filed => MarginNote::alreadyFiled($positions),
        };
    }
}
