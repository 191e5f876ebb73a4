<?php

declare(strict_types=1);

namespace Velvet\Server\Work\Cards;

use Velvet\Server\Store\Card;
use Velvet\Server\Store\CardContents;
use Velvet\Server\Store\Happenings;
use Velvet\Server\Store\Ledger;

/**
 * The photographer's explicit words for a card: that what was left out need not be filed, or that copies on one drive
 * are enough.
 */
final readonly class LettingGo
{
    public function __construct(
        private CardContents $contents,
        private Ledger $ledger,
        private Happenings $happenings,
        private CardNow $now,
    ) {
    }

    /**
     * @return int how many frames are let go of now that were not before
     *
     * @throws WordRefused
     */
    public function leftOut(Card $card): int
    {
        $this->mustBeAsRead($card);
        $frames = $this->contents->letGo($card);
        if ($frames > 0) {
            $this->ledger->write(
                'left_out_let_go',
                ['card' => $card->label, 'card_id' => $card->identity, 'frames' => $frames],
            );
            $this->happenings->tell('bays', []);
        }

        return $frames;
    }

    /**
     * For this card and what is on it now: another stay in the reader with other files asks anew.
     *
     * @throws WordRefused
     */
    public function oneDriveIsEnough(Card $card): void
    {
        $this->mustBeAsRead($card);
        if (!$card->oneDriveIsEnough) {
            $this->contents->oneDriveIsEnough($card);
            $this->ledger->write(
                'one_drive_is_enough',
                ['card' => $card->label, 'card_id' => $card->identity, 'files' => $card->files],
            );
            $this->happenings->tell('bays', []);
        }
    }

    /** @throws WordRefused */
    private function mustBeAsRead(Card $card): void
    {
        $difference = $this->now->difference($card);
        if (null !== $difference) {
            throw WordRefused::cardChanged($card->label, $difference);
        }
    }
}
