<?php

declare(strict_types=1);

namespace Velvet\Server\Cards;

use Velvet\Core\Card\FileKind;
use Velvet\Core\Receipt\Clearance;
use Velvet\Server\Entity\Card;
use Velvet\Server\Row;
use Velvet\Server\Rows;

/** Counts what the database knows of a card, for the answer to whether it may be formatted. */
final readonly class CardClearance
{
    public function __construct(private Rows $rows)
    {
    }

    public function of(Card $card): Clearance
    {
        $frames = $this->rows->one(<<<'SQL'
            SELECT count(*) AS frames,
                   count(*) FILTER (WHERE files = filed AND twinned < files) AS once,
                   count(*) FILTER (WHERE filed < files AND NOT left_out) AS nowhere,
                   count(*) FILTER (WHERE filed < files AND left_out AND NOT let_go) AS left_out
            FROM (SELECT r.left_out, r.let_go, count(*) AS files,
                         count(ff.id) FILTER (WHERE NOT (ff.damaged_on_shelf AND (ff.damaged_on_twin OR NOT ff.has_twin))) AS filed,
                         count(*) FILTER (WHERE ff.has_twin AND NOT ff.damaged_on_shelf AND NOT ff.damaged_on_twin) AS twinned
                  FROM card_file c JOIN card_frame r ON r.id = c.frame_id LEFT JOIN filed_file ff ON ff.id = c.filed_file_id
                  WHERE c.card_id = :card GROUP BY r.id) AS frame
            SQL, ['card' => $card->id()]);
        $movies = array_filter(
            $this->rows->all('SELECT kind, count(*) AS files FROM card_file WHERE card_id = :card AND frame_id IS NULL GROUP BY kind', ['card' => $card->id()]),
            static fn (Row $row): bool => FileKind::from($row->text('kind'))->isMadeByHand(),
        );
        $unread = array_column(array_filter($card->problems, static fn (array $problem): bool => $problem['behind']), 'text');
        if (CardState::Read !== $card->state) {
            $unread[] = $card->problem ?? 'The card has not been read to its end yet.';
        }

        return Clearance::of($frames->int('frames'), $frames->int('once'), $frames->int('nowhere'), $frames->int('left_out'), array_sum(array_map(static fn (Row $row): int => $row->int('files'), $movies)), $unread);
    }
}
