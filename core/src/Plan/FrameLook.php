<?php

declare(strict_types=1);

namespace Velvet\Core\Plan;

use Velvet\Core\Capture\PictureMeasures;

/** What was seen of a frame when its files were read, beside what the plan is made from. */
final readonly class FrameLook
{
    /**
     * @param list<string>         $problems codes of {@see \Velvet\Core\Capture\CaptureProblem}s
     * @param PictureMeasures|null $measures null where it has no picture, or none was drawn yet
     */
    public function __construct(public array $problems = [], public ?PictureMeasures $measures = null)
    {
    }
}
