<?php

declare(strict_types=1);

namespace Velvet\Server\Http;

use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\Routing\Attribute\Route;

final readonly class LedgerController
{
    public function __construct(private LedgerView $view)
    {
    }

    #[Route('/api/ledger', methods: ['GET'])]
    public function intakes(): JsonResponse
    {
        return new JsonResponse($this->view->all());
    }
}
