<?php

declare(strict_types=1);

namespace Velvet\Core\Naming;

use Velvet\Core\Capture\ShotTime;

/** What the frames of a shoot tell of it, for its name. */
final readonly class ShootFrames
{
    /**
     * @param ShotTime|null $firstShot   when the first of them was taken that says when
     * @param int|null      $firstNumber the first one's number of those that have any in their original names
     * @param int|null      $lastNumber  the last one's
     * @param string        $maker       of their camera; empty where they have several
     * @param string        $camera      the same
     */
    public function __construct(
        public ?ShotTime $firstShot = null,
        public ?int $firstNumber = null,
        public ?int $lastNumber = null,
        public string $maker = '',
        public string $camera = '',
    ) {
    }

    /** @param list<FrameNaming> $frames in the order in which they were taken */
    public static function of(array $frames): self
    {
        $times = $numbers = $makers = $cameras = [];
        foreach ($frames as $frame) {
            $times[0] ??= $frame->shotAt;
            if (null !== $frame->originalNumber) {
                $numbers = [$numbers[0] ?? $frame->originalNumber, $frame->originalNumber];
            }
            $makers[$frame->maker] = true;
            $cameras[$frame->camera] = true;
        }

        return new self(
            $times[0] ?? null,
            $numbers[0] ?? null,
            $numbers[1] ?? null,
            self::only($makers),
            self::only($cameras),
        );
    }

    /** @param array<string, true> $values as keys */
    private static function only(array $values): string
    {
        return 1 === \count($values) ? array_key_first($values) : '';
    }
}
