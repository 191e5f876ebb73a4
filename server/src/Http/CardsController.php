<?php

declare(strict_types=1);

namespace Velvet\Server\Http;

use Doctrine\ORM\EntityManagerInterface;
use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\Routing\Attribute\Route;
use Velvet\Server\Store\Card;
use Velvet\Server\Watch\Eject;
use Velvet\Server\Work\Cards\CardClearance;
use Velvet\Server\Work\Cards\LettingGo;

final readonly class CardsController
{
    public function __construct(
        private EntityManagerInterface $entities,
        private Eject $eject,
        private LettingGo $lettingGo,
        private CardClearance $clearance,
    ) {
    }

    #[Route('/api/cards/{id<\d+>}/eject', methods: ['POST'])]
    public function eject(int $id): Response
    {
        $this->eject->card($this->card($id));

        return new Response(null, 204);
    }

    #[Route('/api/cards/{id<\d+>}/let-go', methods: ['POST'])]
    public function letGo(int $id): JsonResponse
    {
        $card = $this->card($id);
        $frames = $this->lettingGo->leftOut($card);

        return new JsonResponse(['frames' => $frames] + CardView::clearance($this->clearance->of($card)));
    }

    /** The photographer's word that two copies on one drive are enough for what is on this card now. */
    #[Route('/api/cards/{id<\d+>}/one-drive-is-enough', methods: ['POST'])]
    public function oneDrive(int $id): JsonResponse
    {
        $card = $this->card($id);
        $this->lettingGo->oneDriveIsEnough($card);

        return new JsonResponse(CardView::clearance($this->clearance->of($card)));
    }

    /** Looks at the card and its copies again; copies that were written to since are read and compared. */
    #[Route('/api/cards/{id<\d+>}/look', methods: ['POST'])]
    public function look(int $id): JsonResponse
    {
        return new JsonResponse(CardView::clearance($this->clearance->of($this->card($id), true)));
    }

    private function card(int $id): Card
    {
        return $this->entities->find(Card::class, $id) ?? throw NotThere::card($id);
    }
}
