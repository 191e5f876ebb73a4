<?php

declare(strict_types=1);

namespace Velvet\Server\Work\Cards;

use Velvet\Core\Filed\CardFileSeen;
use Velvet\Core\Filed\CardSeen;
use Velvet\Core\Filed\Clearance;
use Velvet\Core\Filed\CopyInspection;
use Velvet\Server\Store\Card;
use Velvet\Server\Store\CardContents;
use Velvet\Server\Store\IntakeWork;

/**
 * Looks at a card and at every copy of its files, now, for the answer to whether it may be formatted: the one place
 * that asks.
 */
final readonly class CardClearance
{
    public function __construct(
        private CardContents $contents,
        private IntakeWork $work,
        private CardNow $now,
        private CopyInspection $copies,
    ) {
    }

    /** @param bool $readAgain whether copies that were written to since are read and compared, which takes its time */
    public function of(Card $card, bool $readAgain = false): Clearance
    {
        if ($this->work->isCopying($card)) {
            return Clearance::of(new CardSeen([], false, ['The card is still being copied.']));
        }
        $seen = $this->contents->seen($card);
        $filed = array_values(array_unique(array_filter(array_column($seen, 1), is_int(...))));
        $copies = $this->copies->look($filed, $readAgain);
        $files = array_map(
            static fn (array $one): CardFileSeen => $one[0]->withCopies($copies[$one[1] ?? 0] ?? []),
            $seen,
        );
        // the card last: nothing that was put on it while its copies were looked at escapes
        $difference = $this->now->difference($card);

        return Clearance::of(
            new CardSeen(
                $files,
                $this->wasTakenIn($card),
                [...array_filter([$difference], is_string(...)), ...array_column($card->problems, 'text')],
                $card->oneDriveIsEnough,
            ),
        );
    }

    /** Whether an intake of the card came to its end. */
    public function wasTakenIn(Card $card): bool
    {
        return $this->work->wasTakenIn($card);
    }
}
