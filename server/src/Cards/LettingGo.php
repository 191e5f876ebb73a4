<?php

declare(strict_types=1);

namespace Velvet\Server\Cards;

use Doctrine\DBAL\Connection;
use Velvet\Server\Entity\Card;
use Velvet\Server\Feed\Happenings;
use Velvet\Server\Ledger\Ledger;

/** The photographer's explicit word that what was left out need not be filed: the card can be cleared without it. */
final readonly class LettingGo
{
    public function __construct(private Connection $database, private Ledger $ledger, private Happenings $happenings)
    {
    }

    /** @return int how many frames are let go of now that were not before */
    public function leftOut(Card $card): int
    {
        $frames = (int) $this->database->executeStatement("UPDATE card_frame SET let_go = true WHERE card_id = :card AND left_out AND state = 'new' AND NOT let_go", ['card' => $card->id()]);
        if ($frames > 0) {
            $this->ledger->write('left_out_let_go', ['card' => $card->label, 'frames' => $frames]);
            $this->happenings->tell('bays', []);
        }

        return $frames;
    }
}
