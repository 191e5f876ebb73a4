<?php

declare(strict_types=1);

namespace Velvet\Server\Work\Metadata;

use Symfony\Component\Messenger\MessageBusInterface;
use Velvet\Server\Store\FiledFiles;
use Velvet\Server\Store\Happenings;
use Velvet\Server\Store\Rows;

/** Files that must say something else from now on; they are written in the background. */
final readonly class Following
{
    public function __construct(
        private FiledFiles $files,
        private Rows $rows,
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
        return $this->rows->one(
            "SELECT count(*) AS n FROM filed_file f JOIN intake i ON i.id = f.intake_id
                WHERE f.metadata_state = 'waiting' AND f.outside IS NULL AND i.state IN ('done', 'stopped')",
        )->int('n');
    }

    public function tell(): void
    {
        $this->happenings->tell('metadata', ['left' => $this->left()]);
    }
}
