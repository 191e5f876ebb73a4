<?php

declare(strict_types=1);

namespace Velvet\Server\Http;

use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\Messenger\MessageBusInterface;
use Symfony\Component\Routing\Attribute\Route;
use Velvet\Server\Work\Backup\Backups;
use Velvet\Server\Work\Backup\KeepBackup;

final readonly class BackupsController
{
    public function __construct(private Backups $backups, private MessageBusInterface $bus)
    {
    }

    #[Route('/api/backups', methods: ['GET'])]
    public function last(): JsonResponse
    {
        return new JsonResponse($this->backups->last()->toArray());
    }

    #[Route('/api/backups', methods: ['POST'])]
    public function make(): Response
    {
        $this->bus->dispatch(new KeepBackup());

        return new Response(null, 204);
    }
}
