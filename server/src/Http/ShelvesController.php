<?php

declare(strict_types=1);

namespace Velvet\Server\Http;

use Doctrine\ORM\EntityManagerInterface;
use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\Routing\Attribute\Route;
use Velvet\Server\Store\Shelf;
use Velvet\Server\Watch\DemoFence;
use Velvet\Server\Watch\Folders;
use Velvet\Server\Work\Sheets\Shelves;

final readonly class ShelvesController
{
    public function __construct(
        private Shelves $shelves,
        private BaysView $bays,
        private EntityManagerInterface $entities,
        private Folders $folders,
        private DemoFence $fence,
    ) {
    }

    #[Route('/api/folders', methods: ['GET'])]
    public function folders(Request $request): JsonResponse
    {
        return new JsonResponse($this->folders->at($request->query->getString('path', '/')));
    }

    #[Route('/api/shelves', methods: ['POST'])]
    public function add(Request $request): JsonResponse
    {
        $body = Body::of($request);
        $this->fence->mustHold($body->text('root'), $body->textOrNull('twin'));
        $this->shelves->add($body->text('name'), $body->text('root'), $body->textOrNull('twin'));

        return new JsonResponse($this->bays->all(), 201);
    }

    #[Route('/api/shelves/{id<\d+>}', methods: ['PATCH'])]
    public function change(int $id, Request $request): JsonResponse
    {
        $body = Body::of($request);
        $shelf = $this->entities->find(Shelf::class, $id) ?? throw NotThere::shelf($id);
        $this->fence->mustHold($body->textOrNull('twin'));
        $this->shelves->change($shelf, $body->text('name'), $body->textOrNull('twin'));

        return new JsonResponse($this->bays->all());
    }
}
