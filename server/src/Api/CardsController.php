<?php

declare(strict_types=1);

namespace Velvet\Server\Api;

use Doctrine\ORM\EntityManagerInterface;
use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\Routing\Attribute\Route;
use Velvet\Server\Bays\Eject;
use Velvet\Server\Cards\CardClearance;
use Velvet\Server\Cards\LettingGo;
use Velvet\Server\Entity\Card;

final readonly class CardsController
{
    public function __construct(private EntityManagerInterface $entities, private Eject $eject, private LettingGo $lettingGo, private CardClearance $clearance)
    {
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
        $clearance = $this->clearance->of($card);

        return new JsonResponse(['frames' => $frames, 'cleared' => $clearance->cleared, 'missing' => $clearance->missing]);
    }

    private function card(int $id): Card
    {
        return $this->entities->find(Card::class, $id) ?? throw NotThere::card($id);
    }
}
