<?php

declare(strict_types=1);

namespace Velvet\Server\Sheets;

use Velvet\Core\Capture\ShotTime;
use Velvet\Core\Card\CardFile;
use Velvet\Core\Transfer\FrameState;
use Velvet\Core\Transfer\FrameToFile;
use Velvet\Server\Words;

/** A frame as it lies on a sheet, with what the database knows of it. */
final readonly class SheetFrame
{
    /**
     * @param non-empty-list<CardFile>                $files
     * @param list<string|null>                       $fingerprints one for each file
     * @param array<mixed>                            $facts        as {@see \Velvet\Core\Capture\CaptureFacts::toArray()} gave them
     * @param list<array{code: string, text: string}> $problems
     * @param list<string>                            $sameAs       where the ledger has it, relative to its shelf
     */
    public function __construct(
        public int $id,
        public int $cardId,
        public array $files,
        public array $fingerprints,
        public ?ShotTime $capturedAt,
        public string $camera,
        public array $facts,
        public array $problems,
        public ?string $picture,
        public FrameState $state,
        public array $sameAs,
    ) {
    }

    public function toFile(): FrameToFile
    {
        return new FrameToFile($this->id, $this->files, $this->state, $this->sameAs);
    }

    public function bytes(): int
    {
        return array_sum(array_map(static fn (CardFile $file): int => $file->bytes, $this->files));
    }

    /** `raw + JPEG`, `JPEG` and so on: the kinds of the frame's stills in words. */
    public function kinds(): string
    {
        return implode(' + ', Words::kinds(array_map(static fn (CardFile $file): string => $file->kind->value, $this->files)));
    }
}
