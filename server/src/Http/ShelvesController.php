<?php

declare(strict_types=1);

namespace Velvet\Server\Http;

use Doctrine\ORM\EntityManagerInterface;
use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\Routing\Attribute\Route;
use Velvet\Server\Http\Payload\NewShelf;
use Velvet\Server\Http\Payload\ShelfChange;
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
    public function add(NewShelf $new): JsonResponse
    {
        $this->fence->mustHold($new->root, $new->twin);
        $this->shelves->add($new->name, $new->root, $new->twin);

        return new JsonResponse($this->bays->all(), 201);
    }

    #[Route('/api/shelves/{id<\d+>}', methods: ['PATCH'])]
    public function change(int $id, ShelfChange $change): JsonResponse
    {
        $shelf = $this->entities->find(Shelf::class, $id) ?? throw NotThere::shelf($id);
        $this->fence->mustHold($change->twin);
        $this->shelves->change($shelf, $change->name, $change->twin);

        return new JsonResponse($this->bays->all());
    }
}
