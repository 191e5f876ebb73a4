<?php

declare(strict_types=1);

namespace Velvet\Core\Capture;

use Velvet\Core\Bytes\ByteRange;

/** An encoded picture that common decoders show, as it lies in a file; nothing of it has been read. */
final readonly class ShownPicture
{
    private const ABOUT = 0.9;

    /**
     * @param string      $path  absolute: the file
     * @param ByteRange   $range of the picture in it: a JPEG or another viewable format
     * @param Orientation $shown how it is shown in all
     * @param Orientation $turn  of that, what still has to be applied; nothing where the picture states its own
     * @param array{float, float}|null $focus where the camera focused, as shares of width and height of what is shown,
     *                                        from left and top; null where it is not known
     * @param int|null $edge pixels of its long edge; null where it is the file itself, or its head does not say
     * @param int|null $full the same of the whole image that it stands for; null where the file does not say
     */
    public function __construct(
        public string $path,
        public ByteRange $range,
        public Orientation $shown,
        public Orientation $turn,
        public ?array $focus = null,
        private ?int $edge = null,
        private ?int $full = null,
    ) {
    }

    /** Whether a view of so many pixels along the long edge shows about as much of it as of the whole image. */
    public function isEnoughFor(int $edge): bool
    {
        return null === $this->edge || null === $this->full || $this->edge >= self::ABOUT * min($edge, $this->full);
    }

    /** Whether half of the whole image, in each direction, would be. */
    public function isHalfEnoughFor(int $edge): bool
    {
        return null === $this->full || $this->full / 2 >= self::ABOUT * min($edge, $this->full);
    }
}
