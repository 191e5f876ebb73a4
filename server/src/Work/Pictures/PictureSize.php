<?php

declare(strict_types=1);

namespace Velvet\Server\Work\Pictures;

/** The least long edge, in pixels, of the pictures shown in the browser; none is enlarged to it. */
enum PictureSize: int
{
    case Strip = 320;
    case Near = 1024;
    case Look = 2560;
    /** Every pixel of the largest picture in the file: no camera's is larger. */
    case Whole = 16384;

    /** Whether only the largest picture in a file is good enough for it. */
    public function isOfTheLargest(): bool
    {
        return $this->value >= self::Look->value;
    }

    /**
     * The long edge of a picture that need not be shrunk to it: what the decoder made, and is hardly larger. The small
     * ones are held by the hundred, and each pixel more of the large ones is painted later.
     */
    public function most(): int
    {
        return self::Near === $this ? 1536 : $this->value;
    }

    public function quality(): int
    {
        return match ($this) {
            self::Strip => 78,
            self::Near => 82,
            self::Look => 88,
            self::Whole => 92,
        };
    }
}
