<?php

declare(strict_types=1);

namespace Velvet\Core\Capture;

/**
 * How a picture that is stored one way is shown (the tag `Orientation`; TIFF 6.0, section 8; Exif 2.32, 4.6.4): turned
 * by quarters, and then perhaps mirrored, left for right.
 */
enum Orientation: int
{
    case AsStored = 1;
    case Mirrored = 2;
    case HalfTurned = 3;
    case HalfTurnedMirrored = 4;
    case RightMirrored = 5;
    case Right = 6;
    case LeftMirrored = 7;
    case Left = 8;

    private const AS_QUARTERS = [[1, 2], [6, 5], [3, 4], [8, 7]];

    /** Of a picture that is shown so, and then in the other way, too. */
    public function then(self $other): self
    {
        return self::of(
            $this->isMirrored() ? $this->quarters() - $other->quarters() : $this->quarters() + $other->quarters(),
            $this->isMirrored() !== $other->isMirrored(),
        );
    }

    /** What takes it back. */
    public function undone(): self
    {
        return $this->isMirrored() ? $this : self::of(-$this->quarters(), false);
    }

    /**
     * Where a point of the stored picture is shown.
     *
     * @param array{float, float} $place shares of its width and height, from left and top
     *
     * @return array{float, float} the same of the shown picture
     */
    public function place(array $place): array
    {
        [$x, $y] = match ($this->quarters()) {
            0 => $place,
            1 => [1 - $place[1], $place[0]],
            2 => [1 - $place[0], 1 - $place[1]],
            default => [$place[1], 1 - $place[0]],
        };

        return [$this->isMirrored() ? 1 - $x : $x, $y];
    }

    /** Quarters clockwise, 0 to 3; before it is mirrored. */
    private function quarters(): int
    {
        foreach (self::AS_QUARTERS as $quarters => $orientations) {
            if (\in_array($this->value, $orientations, true)) {
                return $quarters;
            }
        }
        throw new \LogicException('There are no others.');
    }

    private function isMirrored(): bool
    {
        return \in_array($this->value, array_column(self::AS_QUARTERS, 1), true);
    }

    private static function of(int $quarters, bool $isMirrored): self
    {
        return self::from(self::AS_QUARTERS[$quarters & 3][(int) $isMirrored]);
    }
}
