<?php

declare(strict_types=1);

namespace Velvet\Server\Http;

use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\Routing\Attribute\Route;
use Velvet\Core\Filed\Tab;
use Velvet\Server\Http\Payload\NewTab;
use Velvet\Server\Http\Payload\TabChange;
use Velvet\Server\Store\Tabs;
use Velvet\Server\Work\Metadata\TabEdits;

/** The tabs that frames can have. */
final readonly class TabsController
{
    public function __construct(private Tabs $tabs, private TabEdits $edits)
    {
    }

    #[Route('/api/tabs', methods: ['GET'])]
    public function all(): JsonResponse
    {
        return $this->answer();
    }

    #[Route('/api/tabs', methods: ['POST'])]
    public function add(NewTab $new): JsonResponse
    {
        $this->edits->add($new->name, $new->colour, $new->writes);

        return $this->answer(201);
    }

    #[Route('/api/tabs/{id<\d+>}', methods: ['PATCH'])]
    public function change(int $id, TabChange $change): JsonResponse
    {
        $this->edits->change($this->named($id), $change->name, $change->colour, $change->writes);

        return $this->answer();
    }

    #[Route('/api/tabs/{id<\d+>}', methods: ['DELETE'])]
    public function delete(int $id): JsonResponse
    {
        $this->edits->delete($this->named($id));

        return $this->answer();
    }

    private function named(int $id): Tab
    {
        return $this->tabs->find($id) ?? throw NotThere::tab($id);
    }

    private function answer(int $status = 200): JsonResponse
    {
        $uses = $this->tabs->uses();

        return new JsonResponse(['tabs' => array_map(static fn (Tab $tab): array => [
            'id' => $tab->id,
            'name' => $tab->name,
            'colour' => $tab->colour->value,
            'writes' => $tab->writes->value,
            'key' => $tab->key,
            'frames' => $uses[$tab->id] ?? 0,
        ], $this->tabs->all())], $status);
    }
}
