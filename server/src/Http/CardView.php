<?php

declare(strict_types=1);

namespace Velvet\Server\Http;

use Velvet\Core\Filed\Clearance;

/** The answer to whether a card may be formatted, as every page gets it. */
final class CardView
{
    /**
     * @return array{cleared: bool, copied: bool, missing: list<string>, left_out: int, files: int, in_two_places: int,
     * housekeeping: int, unknown: int, on_one_drive: int, touched: int}
     */
    public static function clearance(Clearance $clearance): array
    {
        return [
            'cleared' => $clearance->cleared, 'copied' => $clearance->copied, 'missing' => $clearance->missing,
            'left_out' => $clearance->leftOut, 'files' => $clearance->files,
            'in_two_places' => $clearance->inTwoPlaces, 'housekeeping' => $clearance->housekeeping,
            'unknown' => $clearance->unknown, 'on_one_drive' => $clearance->onOneDrive,
            'touched' => $clearance->touched,
        ];
    }
}
