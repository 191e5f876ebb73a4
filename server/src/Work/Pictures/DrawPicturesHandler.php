<?php

declare(strict_types=1);

namespace Velvet\Server\Work\Pictures;

use Symfony\Component\Messenger\Attribute\AsMessageHandler;
use Velvet\Server\Store\CardContents;
use Velvet\Server\Store\Happenings;
use Velvet\Server\Store\IntakeWork;

/** Draws a card's small pictures, and measures each. Several workers draw different parts of a card at once. */
#[AsMessageHandler]
final readonly class DrawPicturesHandler
{
    private const BATCH = 50;

    public function __construct(
        private Pictures $pictures,
        private CardContents $contents,
        private IntakeWork $work,
        private Happenings $happenings,
    ) {
    }

    public function __invoke(DrawPictures $message): void
    {
        $measured = [];
        $pictures = $this->contents->notMeasured($message->cardId, $message->after, $message->upTo);
        foreach ($pictures as $frame => $picture) {
            try {
                $measured[$frame] = $this->pictures->drawAndMeasure($picture);
            } catch (PictureUndrawable) {
                // the page shows a frame without a picture; whoever asks for it gets the sentence
            }
            if (\count($measured) >= self::BATCH) {
                $this->contents->measured($measured);
                $measured = [];
            }
        }
        $this->contents->measured($measured);
        foreach ($this->work->sheets($message->cardId) as $sheet) {
            $this->happenings->tell('sheet', ['id' => $sheet]);
        }
    }
}
