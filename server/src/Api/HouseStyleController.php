<?php

declare(strict_types=1);

namespace Velvet\Server\Api;

use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\Routing\Attribute\Route;
use Velvet\Server\Style\StyleView;

final readonly class HouseStyleController
{
    public function __construct(private StyleView $view)
    {
    }

    #[Route('/api/house-style', methods: ['GET'])]
    public function standard(): JsonResponse
    {
        return new JsonResponse($this->view->standard());
    }
}
