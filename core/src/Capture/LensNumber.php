<?php

declare(strict_types=1);

namespace Velvet\Core\Capture;

/** The number by which a maker's note names the lens. */
final readonly class LensNumber
{
    /**
     * @param string                   $maker one of {@see LensTable}
     * @param string                   $number as the table writes it
     * @param array{float, float}|null $range shortest and longest focal length in mm: several lenses share a number
     */
    public function __construct(public string $maker, public string $number, public ?array $range = null)
    {
    }
}
