<?php

declare(strict_types=1);

namespace Velvet\Core\Dng;

/** A raw file that cannot be made a DNG, or a DNG that cannot be read. */
final class DngRefused extends \RuntimeException
{
    /** @param bool $isOfUnknownKind whether another reader may still read it */
    private function __construct(string $message, public readonly bool $isOfUnknownKind = false)
    {
        parent::__construct($message);
    }

    public static function structure(string $what): self
    {
        return new self("it cannot be read: $what");
    }

    public static function unknownRaw(string $what): self
    {
        return new self("its raw image is of a kind that is not converted: $what", true);
    }

    public static function tooLarge(int $width, int $height): self
    {
        return new self(
            \sprintf(
                'it says that it has %s by %s samples, which no camera has',
                number_format($width),
                number_format($height),
            ),
        );
    }

    public static function proof(int $at): self
    {
        return new self(
            \sprintf(
                'sample %s came back different when the DNG was read again; it was thrown away',
                number_format($at),
            ),
        );
    }

    public static function changed(): self
    {
        return new self('its copies are missing or were changed by another program');
    }

    public static function unsettled(): self
    {
        return new self('another program changed what lies beside it, and it is not settled yet what holds');
    }

    public static function nothingInside(): self
    {
        return new self('there is no camera file within');
    }

    /** What a conversion in another process said. */
    public static function said(string $why): self
    {
        return new self($why);
    }
}
