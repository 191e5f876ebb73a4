<?php

declare(strict_types=1);

namespace Velvet\Server\Work\Sheets;

use Velvet\Server\Refusal;

final class SheetRefused extends \RuntimeException implements Refusal
{
    private function __construct(private readonly int $status, string $message)
    {
        parent::__construct($message);
    }

    public function status(): int
    {
        return $this->status;
    }

    public static function cardNotRead(string $label): self
    {
        return new self(
            409,
            \sprintf('The card %s has not been read to its end yet. Wait for it, or put it in again.', $label),
        );
    }

    public static function noSuchEntry(int $number): self
    {
        return new self(
            404,
            \sprintf('There is no entry %d on this sheet. Load the page again to see it as it is now.', $number),
        );
    }

    public static function noSuchFrame(int $frame): self
    {
        return new self(
            404,
            \sprintf('Frame %d is not on this sheet. Load the page again to see it as it is now.', $frame),
        );
    }

    public static function alreadyStarted(int $id): self
    {
        return new self(
            409,
            \sprintf(
                'The frames of sheet %d are being copied or have been; its names are settled. Open a new sheet for '
                    .'anything else.',
                $id,
            ),
        );
    }

    public static function underWay(string $label, int $id): self
    {
        return new self(
            409,
            \sprintf(
                'The card %s is being copied by intake %d. Wait for its end, or stop it; what it files is left out '
                    .'here then.',
                $label,
                $id,
            ),
        );
    }

    public static function noShelf(): self
    {
        return new self(
            409,
            'There is no shelf to copy to. Add one with ./velvet intake … --shelf DIR, or start with the demo.',
        );
    }

    public static function outsideTheDemo(string $path, string $fence): self
    {
        return new self(
            422,
            \sprintf(
                '“%s” lies outside of the demo. Choose a folder in %s, or start Velvet Ledger with a home of your own.',
                $path,
                $fence,
            ),
        );
    }

    public static function shelfMissing(string $root): self
    {
        return new self(
            409,
            \sprintf(
                'The folder “%s” is not there or cannot be written to. Connect its drive; nothing was copied.',
                $root,
            ),
        );
    }

    public static function nothingNew(): self
    {
        return new self(409, 'There is nothing to copy: every frame on this sheet is filed already.');
    }

    public static function noRoom(string $root, string $missing): self
    {
        return new self(
            409,
            \sprintf(
                'There is no room on “%s”: %s more are needed. Make room or choose another shelf; nothing was copied.',
                $root,
                $missing,
            ),
        );
    }

    public static function namesMissing(int $count): self
    {
        return new self(
            409,
            1 === $count
                ? 'One entry has no name yet. Name it first; nothing was copied.'
                : \sprintf('%d entries have no name yet. Name them first; nothing was copied.', $count),
        );
    }

    public static function clockTooFar(): self
    {
        return new self(
            422,
            'A clock can be corrected by 60 years at most. A date as wrong as this is mended in the files themselves.',
        );
    }

    public static function shelfOnCard(string $root): self
    {
        return new self(
            422,
            \sprintf(
                '“%s” lies on the card itself, and cards are never written to. Choose a folder on another drive.',
                $root,
            ),
        );
    }

    public static function shelfOfTheSystem(string $root): self
    {
        return new self(
            422,
            \sprintf(
                '“%s” belongs to the computer itself and is no place for pictures. Choose a folder of your own, best '
                    .'on a drive for pictures.',
                $root,
            ),
        );
    }

    public static function cardChanged(string $label, string $difference): self
    {
        return new self(409, \sprintf('%s: %s Nothing was copied.', $label, $difference));
    }

    public static function twinInside(string $root, string $twin): self
    {
        return new self(
            422,
            \sprintf(
                '“%s” and “%s” lie one inside the other, so that a copy would be copied again. Choose two folders '
                    .'that are apart.',
                $root,
                $twin,
            ),
        );
    }

    public static function shelfKnown(string $root): self
    {
        return new self(409, \sprintf('There is a shelf at “%s” already.', $root));
    }

    public static function sameTwin(string $root): self
    {
        return new self(
            422,
            \sprintf(
                '“%s” cannot be its own twin. The second copy must go to another folder, best on another drive.',
                $root,
            ),
        );
    }
}
