<?php

declare(strict_types=1);

namespace Velvet\Core\Card;

/** One exposure: its raw, JPEG or HEIF together with their companions (sidecar, voice note, movie). */
final readonly class Frame
{
    /**
     * @param non-empty-list<CardFile> $files stills first, in the order of {@see FileKind::rank()}, then companions
     */
    public function __construct(public array $files)
    {
    }

    /** The file whose facts stand for the frame. */
    public function leading(): CardFile
    {
        return $this->files[0];
    }

    /** Whether it is no frame, but the loose files of a card taken together: see {@see FrameListing::loose()}. */
    public function isLoose(): bool
    {
        return $this->leading()->kind->isLoose();
    }

    public function bytes(): int
    {
        return array_sum(array_map(static fn (CardFile $file): int => $file->bytes, $this->files));
    }
}
