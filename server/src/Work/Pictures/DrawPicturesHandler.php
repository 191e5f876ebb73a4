<?php

declare(strict_types=1);

namespace Velvet\Server\Work\Pictures;

use Symfony\Component\Messenger\Attribute\AsMessageHandler;
use Velvet\Server\Store\Happenings;
use Velvet\Server\Store\JsonRows;
use Velvet\Server\Store\Rows;

/** Draws a card's small pictures, and measures each. Several workers draw different parts of a card at once. */
#[AsMessageHandler]
final readonly class DrawPicturesHandler
{
    private const BATCH = 50;

    public function __construct(
        private Pictures $pictures,
        private Rows $rows,
        private JsonRows $jsonRows,
        private Happenings $happenings,
    ) {
    }

    public function __invoke(DrawPictures $message): void
    {
        $measured = [];
        foreach ($this->rows->all('SELECT id, picture FROM card_frame WHERE card_id = :card AND id > :after
            AND id <= :upTo AND picture IS NOT NULL AND brightness IS NULL ORDER BY id', [
            'card' => $message->cardId, 'after' => $message->after, 'upTo' => $message->upTo,
        ]) as $row) {
            try {
                $measures = $this->pictures->drawAndMeasure($row->text('picture'));
                $measured[] = [
                    'id' => $row->int('id'),
                    'brightness' => $measures->brightness,
                    'black' => $measures->black,
                    'clipped' => $measures->clipped,
                    'sharpness' => $measures->sharpness,
                ];
            } catch (PictureUndrawable) {
                // the page shows a frame without a picture; whoever asks for it gets the sentence
            }
            if (\count($measured) >= self::BATCH) {
                $this->keep($measured);
                $measured = [];
            }
        }
        $this->keep($measured);
        foreach ($this->rows->all("SELECT i.id FROM intake i JOIN intake_card ic ON ic.intake_id = i.id
            WHERE ic.card_id = :card AND i.state = 'sheet'", ['card' => $message->cardId]) as $row) {
            $this->happenings->tell('sheet', ['id' => $row->int('id')]);
        }
    }

    /** @param list<array<string, mixed>> $measured */
    private function keep(array $measured): void
    {
        $this->jsonRows->execute(
            'UPDATE card_frame f
                SET brightness = r.brightness, black = r.black, clipped = r.clipped, sharpness = r.sharpness
                FROM jsonb_to_recordset(CAST(:rows AS jsonb)) AS r(id bigint, brightness real, black real,
                    clipped real, sharpness real)
                WHERE f.id = r.id',
            $measured,
        );
    }
}
