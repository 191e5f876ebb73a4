<?php

declare(strict_types=1);

namespace Velvet\Core\Shoot;

final class ArrangementRefused extends \DomainException
{
    public static function noSuchEntry(int $number): self
    {
        return new self(
            \sprintf('There is no entry %d on this sheet. Load the page again to see it as it is now.', $number),
        );
    }

    public static function firstFrame(): self
    {
        return new self('This is the first frame of its entry already: there is nothing before it to split off.');
    }

    public static function noSuchFrame(): self
    {
        return new self(
            'One of these frames is not on the sheet any more. Load the page again to see it as it is now.',
        );
    }

    public static function nothingBefore(): self
    {
        return new self('The first entry has none before it to be joined with.');
    }
}
