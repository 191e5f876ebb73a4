<?php

declare(strict_types=1);

namespace Velvet\Server\Api;

use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\Routing\Attribute\Route;
use Velvet\Server\Ledger\Custody;
use Velvet\Server\Shoots\ShootsView;

final readonly class ShootsController
{
    private const MOST_FRAMES = 500;

    public function __construct(private ShootsView $view, private Custody $custody)
    {
    }

    #[Route('/api/shoots', methods: ['GET'])]
    public function all(): JsonResponse
    {
        return new JsonResponse(['shoots' => $this->view->all()]);
    }

    #[Route('/api/shoots/{id<\d+>}', methods: ['GET'])]
    public function show(int $id): JsonResponse
    {
        return new JsonResponse($this->view->one($id) ?? throw NotThere::shoot($id));
    }

    #[Route('/api/shoots/{id<\d+>}/frames', methods: ['GET'])]
    public function frames(int $id, Request $request): JsonResponse
    {
        $offset = max(0, $request->query->getInt('offset'));
        $limit = min(self::MOST_FRAMES, max(1, $request->query->getInt('limit', 100)));

        return new JsonResponse(['frames' => $this->view->frames($id, $offset, $limit)]);
    }

    #[Route('/api/frames/{id<\d+>}/custody', methods: ['GET'])]
    public function custody(int $id): JsonResponse
    {
        $lines = $this->custody->ofFrame($id);

        return new JsonResponse(['lines' => [] === $lines ? throw NotThere::frame($id) : $lines]);
    }
}
