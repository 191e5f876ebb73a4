<?php

declare(strict_types=1);

namespace Velvet\Server\Work\Cards;

use Doctrine\DBAL\Connection;
use Velvet\Core\Bytes\Fingerprint;
use Velvet\Core\Filed\FiledBefore;
use Velvet\Server\Store\Card;
use Velvet\Server\Store\JsonRows;
use Velvet\Server\Store\Row;
use Velvet\Server\Store\Rows;

/** Which files on a card the ledger has, with a copy still there; a frame is filed when it has all of them. */
final readonly class FiledOnCard
{
    public function __construct(
        private Connection $database,
        private Rows $rows,
        private JsonRows $jsonRows,
        private FiledBefore $filedBefore,
    ) {
    }

    /** All of the card, anew. */
    public function compare(Card $card): void
    {
        $this->database->executeStatement(
            'UPDATE card_file SET filed_file_id = NULL, repairs_file_id = NULL WHERE card_id = :card
                AND (filed_file_id IS NOT NULL OR repairs_file_id IS NOT NULL)',
            ['card' => $card->id()],
        );
        $this->database->executeStatement(
            "UPDATE card_frame SET state = 'new' WHERE card_id = :card AND state = 'filed'",
            ['card' => $card->id()],
        );
        $this->catchUp($card);
    }

    /**
     * What was filed since the card was read, as from the other slot's card or by somebody else. Only files of a known
     * likeness are read.
     */
    public function catchUp(Card $card): void
    {
        /** @var array<int, list<Row>> $frames */
        $frames = [];
        foreach ($this->rows->all("SELECT c.frame_id, c.id, c.path, c.fingerprint, c.filed_file_id FROM card_file c
            JOIN card_frame f ON f.id = c.frame_id WHERE c.card_id = :card AND f.state = 'new' AND EXISTS (SELECT
            FROM card_file o JOIN filed_file l ON l.fingerprint = o.fingerprint WHERE o.frame_id = c.frame_id
            AND o.filed_file_id IS NULL AND o.repairs_file_id IS NULL) ORDER BY c.frame_id, c.position", ['card' => $card->id()]) as $row) {
            $frames[$row->int('frame_id')][] = $row;
        }
        $filed = $files = $repairs = [];
        foreach ($frames as $frameId => $rows) {
            $whole = 0;
            foreach ($rows as $row) {
                $hex = $row->textOrNull('fingerprint');
                $copy = null === $hex || null !== $row->intOrNull('filed_file_id')
                    ? null
                    : $this->filedBefore->find($card->root.'/'.$row->text('path'), Fingerprint::fromHex($hex));
                if (true === $copy?->needsRepair()) {
                    $repairs[] = ['id' => $row->int('id'), 'filed' => $copy->id];
                } elseif (null !== $copy) {
                    $files[] = ['id' => $row->int('id'), 'filed' => $copy->id];
                    ++$whole;
                } elseif (null !== $row->intOrNull('filed_file_id')) {
                    ++$whole;
                }
            }
            if ($whole === \count($rows)) {
                $filed[] = ['id' => $frameId];
            }
        }
        $this->jsonRows->execute(
            'UPDATE card_file c SET filed_file_id = r.filed
                FROM jsonb_to_recordset(CAST(:rows AS jsonb)) AS r(id bigint, filed bigint) WHERE c.id = r.id',
            $files,
        );
        $this->jsonRows->execute(
            'UPDATE card_file c SET repairs_file_id = r.filed
                FROM jsonb_to_recordset(CAST(:rows AS jsonb)) AS r(id bigint, filed bigint) WHERE c.id = r.id',
            $repairs,
        );
        $this->jsonRows->execute(
            "UPDATE card_frame f SET state = 'filed' FROM jsonb_to_recordset(CAST(:rows AS jsonb)) AS r(id bigint)
                WHERE f.id = r.id",
            $filed,
        );
    }
}
