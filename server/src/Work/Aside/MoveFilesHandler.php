<?php

declare(strict_types=1);

namespace Velvet\Server\Work\Aside;

use Symfony\Component\Messenger\Attribute\AsMessageHandler;

#[AsMessageHandler]
final readonly class MoveFilesHandler
{
    public function __construct(private FileMoves $moves)
    {
    }

    public function __invoke(MoveFiles $message): void
    {
        $this->moves->all();
    }
}
