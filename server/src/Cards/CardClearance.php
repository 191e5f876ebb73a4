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
                   count(*) FILTER (WHERE filed < files) AS nowhere
            FROM (SELECT count(*) AS files, count(ff.id) AS filed, count(*) FILTER (WHERE ff.has_twin) AS twinned
                  FROM card_file c LEFT JOIN filed_file ff ON ff.id = c.filed_file_id
                  WHERE c.card_id = :card AND c.frame_id IS NOT NULL GROUP BY c.frame_id) AS frame
            SQL, ['card' => $card->id()]);
        $movies = array_filter(
            $this->rows->all('SELECT kind, count(*) AS files FROM card_file WHERE card_id = :card AND frame_id IS NULL GROUP BY kind', ['card' => $card->id()]),
            static fn (Row $row): bool => FileKind::from($row->text('kind'))->isMadeByHand(),
        );
        $unread = array_column(array_filter($card->problems, static fn (array $problem): bool => $problem['behind']), 'text');
        if (CardState::Read !== $card->state) {
            $unread[] = $card->problem ?? 'The card has not been read to its end yet.';
        }

        return Clearance::of($frames->int('frames'), $frames->int('once'), $frames->int('nowhere'), 0, array_sum(array_map(static fn (Row $row): int => $row->int('files'), $movies)), $unread);
    }
}
