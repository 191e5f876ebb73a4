<?php

declare(strict_types=1);

namespace Velvet\Server\Work\Metadata;

use Symfony\Component\Messenger\MessageBusInterface;
use Velvet\Server\Store\FiledFiles;
use Velvet\Server\Store\Happenings;

/** Files that must say something else from now on; they are written in the background. */
final readonly class MetadataQueue
{
    public function __construct(
        private FiledFiles $files,
        private MessageBusInterface $bus,
        private Happenings $happenings,
    ) {
    }

    /** @param list<int> $frames */
    public function ask(array $frames): void
    {
        $this->files->ask($frames);
    }

    /** Sets the workers to it; called when what was asked for is kept. */
    public function begin(): void
    {
        if ($this->left() > 0) {
            WriteMetadata::byAll($this->bus);
            $this->tell();
        }
    }

    /** Files that are still to be written, those of intakes under way not counted. */
    public function left(): int
    {
        return $this->files->leftToWrite();
    }

    public function tell(): void
    {
        $this->happenings->tell('metadata', ['left' => $this->left()]);
    }
}
