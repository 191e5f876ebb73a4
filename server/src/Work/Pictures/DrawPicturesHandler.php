<?php

declare(strict_types=1);

namespace Velvet\Server\Work\Pictures;

use Symfony\Component\Messenger\Attribute\AsMessageHandler;
use Velvet\Server\Store\Happenings;
use Velvet\Server\Store\IntakeWork;
use Velvet\Server\Store\MeasuredPictures;

/** Draws a card's small pictures, and measures each. Several workers draw different parts of a card at once. */
#[AsMessageHandler]
final readonly class DrawPicturesHandler
{
    private const BATCH = 50;

    public function __construct(
        private Pictures $pictures,
        private MeasuredPictures $known,
        private IntakeWork $work,
        private Happenings $happenings,
    ) {
    }

    public function __invoke(DrawPictures $message): void
    {
        $measured = [];
        foreach ($this->known->missing($message->cardId, $message->after, $message->upTo) as $picture) {
            try {
                $measured[$picture] = $this->pictures->drawAndMeasure($picture);
            } catch (PictureUndrawable) {
                // the page shows a frame without a picture; whoever asks for it gets the sentence
            }
            if (\count($measured) >= self::BATCH) {
                $this->known->keep($measured);
                $measured = [];
            }
        }
        $this->known->keep($measured);
        foreach ($this->work->sheets($message->cardId) as $sheet) {
            $this->happenings->tell('sheet', ['id' => $sheet]);
        }
    }
}
