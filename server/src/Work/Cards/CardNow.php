<?php

declare(strict_types=1);

namespace Velvet\Server\Work\Cards;

use Velvet\Core\Card\CardListing;
use Velvet\Core\Card\CardUnreadable;
use Velvet\Core\Card\CardWalk;
use Velvet\Core\Card\Insertion;
use Velvet\Server\Store\Card;
use Velvet\Server\Store\CardContents;
use Velvet\Server\Store\CardState;

/**
 * Whether the card that is in now is the card as it was read. Its folders are walked anew each time; nothing is
 * remembered.
 */
final readonly class CardNow
{
    public function __construct(private CardContents $contents)
    {
    }

    /** Why what is known of the card cannot be relied on, in a sentence; null where it is as it was read. */
    public function difference(Card $card): ?string
    {
        if (!$card->present || null === ($insertion = Insertion::at($card->root))) {
            return 'The card is out. Put it in again, so that it can be looked at.';
        }
        if (CardState::Read !== $card->state) {
            return $card->problem ?? 'The card has not been read to its end yet.';
        }
        if ($insertion !== $card->insertion) {
            return 'The card was taken out and put in again, or another one is in its place: it must be read again '
                .'first.';
        }
        try {
            $listing = CardWalk::of($card->root);
        } catch (CardUnreadable $e) {
            return $e->getMessage();
        }

        return $listing->seal() === $card->listing ? null : $this->changes($card, $listing);
    }

    private function changes(Card $card, CardListing $listing): string
    {
        $known = $this->contents->stamps($card);
        $new = $changed = 0;
        foreach ($listing->files as $file) {
            if (!isset($known[$file->path])) {
                ++$new;
            } elseif ($known[$file->path] !== $file->stamp) {
                ++$changed;
            }
            unset($known[$file->path]);
        }
        $what = [];
        foreach ([
            [$new, 'file is new', 'files are new'],
            [$changed, 'is changed', 'are changed'],
            [\count($known), 'is gone', 'are gone'],
        ] as [$files, $one, $many]) {
            if ($files > 0) {
                $what[] = number_format($files).' '.(1 === $files ? $one : $many);
            }
        }

        return \sprintf(
            'The card changed since it was read%s. It must be read again first.',
            [] === $what ? '' : ': '.implode(', ', $what),
        );
    }
}
