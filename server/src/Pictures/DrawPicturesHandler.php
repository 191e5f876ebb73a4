<?php

declare(strict_types=1);

namespace Velvet\Server\Pictures;

use Symfony\Component\Messenger\Attribute\AsMessageHandler;
use Velvet\Server\Rows;

#[AsMessageHandler]
final readonly class DrawPicturesHandler
{
    public function __construct(private Pictures $pictures, private Rows $rows)
    {
    }

    public function __invoke(DrawPictures $message): void
    {
        foreach ($this->rows->all('SELECT DISTINCT picture, min(captured_at) FROM card_frame WHERE card_id = :card AND picture IS NOT NULL GROUP BY picture ORDER BY min(captured_at)', ['card' => $message->cardId]) as $row) {
            try {
                $this->pictures->draw(PictureSize::Strip, $row->text('picture'));
            } catch (PictureUndrawable) {
                // the page shows a frame without a picture; whoever asks for it gets the sentence
            }
        }
    }
}
