<?php

declare(strict_types=1);

namespace Velvet\Server\Http;

use Doctrine\ORM\EntityManagerInterface;
use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\Routing\Attribute\Route;
use Velvet\Server\Watch\Bays;
use Velvet\Server\Watch\DemoBays;

final readonly class BaysController
{
    public function __construct(
        private BaysView $view,
        private Bays $bays,
        private DemoBays $demo,
        private EntityManagerInterface $entities,
    ) {
    }

    #[Route('/api/bays', methods: ['GET'])]
    public function bays(): JsonResponse
    {
        return new JsonResponse($this->view->all());
    }

    #[Route('/api/demo/cards/{label}/in', methods: ['POST'])]
    public function putIn(string $label): Response
    {
        if (!$this->demo->putIn($label)) {
            throw NotThere::demoCard($label);
        }
        $this->bays->look();
        $this->entities->clear();

        return new Response(null, 204);
    }
}
