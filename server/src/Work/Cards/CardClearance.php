<?php

declare(strict_types=1);

namespace Velvet\Server\Work\Cards;

use Velvet\Core\Filed\CardFileSeen;
use Velvet\Core\Filed\CardSeen;
use Velvet\Core\Filed\Clearance;
use Velvet\Server\Store\Card;
use Velvet\Server\Store\Row;
use Velvet\Server\Store\Rows;
use Velvet\Server\Work\Ledger\Copies;

/**
 * Looks at a card and at every copy of its files, now, for the answer to whether it may be formatted: the one place
 * that asks.
 */
final readonly class CardClearance
{
    public function __construct(private Rows $rows, private CardNow $now, private Copies $copies)
    {
    }

    /** @param bool $readAgain whether copies that were written to since are read and compared, which takes its time */
    public function of(Card $card, bool $readAgain = false): Clearance
    {
        if ($this->isBeingCopied($card)) {
            return Clearance::of(new CardSeen([], false, ['The card is still being copied.']));
        }
        $rows = $this->rows->all(<<<'SQL'
            SELECT c.path, c.frame_id, c.housekeeping, coalesce(r.left_out, false) AS left_out,
            coalesce(r.let_go, false) AS let_go,
                   CASE WHEN f.picture_replaced THEN NULL ELSE c.filed_file_id END AS filed
            FROM card_file c LEFT JOIN card_frame r ON r.id = c.frame_id
                LEFT JOIN filed_file f ON f.id = c.filed_file_id
            WHERE c.card_id = :card ORDER BY c.path
            SQL, ['card' => $card->id()]);
        $filed = array_values(
            array_filter(array_map(static fn (Row $row): ?int => $row->intOrNull('filed'), $rows), is_int(...)),
        );
        $copies = $this->copies->look(array_values(array_unique($filed)), $readAgain);
        $files = array_map(static function (Row $row) use ($copies): CardFileSeen {
            $file = $row->intOrNull('filed');

            return new CardFileSeen(
                $row->text('path'),
                $row->intOrNull('frame_id'),
                $row->textOrNull('housekeeping'),
                $row->bool('left_out'),
                $row->bool('let_go'),
                null !== $file,
                $copies[$file ?? 0] ?? [],
            );
        }, $rows);
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

    private function isBeingCopied(Card $card): bool
    {
        return $this->rows->one(
            "SELECT EXISTS (SELECT FROM intake i JOIN intake_card ic ON ic.intake_id = i.id WHERE ic.card_id = :card
                AND i.state IN ('waiting', 'running')) AS it",
            ['card' => $card->id()],
        )->bool('it');
    }

    /** Whether an intake of the card came to its end. */
    public function wasTakenIn(Card $card): bool
    {
        return $this->rows->one(
            "SELECT EXISTS (SELECT FROM intake i JOIN intake_card ic ON ic.intake_id = i.id WHERE ic.card_id = :card
                AND i.state IN ('done', 'stopped')) AS it",
            ['card' => $card->id()],
        )->bool('it');
    }
}
