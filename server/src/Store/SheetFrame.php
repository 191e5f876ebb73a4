<?php

declare(strict_types=1);

namespace Velvet\Server\Store;

use Velvet\Core\Capture\Exposed;
use Velvet\Core\Capture\PictureMeasures;
use Velvet\Core\Capture\ShotTime;
use Velvet\Core\Card\CardFile;
use Velvet\Core\Card\FileKind;
use Velvet\Core\Naming\FrameNaming;
use Velvet\Core\Plan\FrameLook;
use Velvet\Core\Plan\FrameState;
use Velvet\Core\Plan\FrameToFile;

/** A frame as it lies on a sheet, with what the database knows of it. */
final readonly class SheetFrame
{
    /**
     * @param non-empty-list<CardFile> $files
     * @param list<string|null>       $fingerprints one for each file
     * @param string                  $problems     JSON of {@see \Velvet\Core\Capture\CaptureProblem}s
     * @param list<FiledAt|null>      $repairs      the filed copy of each file that is missing or damaged somewhere
     * @param list<string|null>       $sameAs       where the ledger has each file, relative to its shelf; null where it
     *                                              has it not
     */
    public function __construct(
        public int $id,
        public int $cardId,
        public array $files,
        public array $fingerprints,
        public string $camera,
        public FrameNaming $naming,
        public Exposed $exposed,
        private string $problems,
        public ?string $picture,
        public FrameState $state,
        public array $sameAs,
        public ?PictureMeasures $measures,
        public array $repairs = [],
    ) {
    }

    /** When it was taken, corrected where its camera's clock was wrong. */
    public function capturedAt(): ?ShotTime
    {
        return $this->naming->shotAt;
    }

    /** @return list<array{code: string, text: string}> */
    public function problems(): array
    {
        if ('[]' === $this->problems) {
            return [];
        }
        $problems = [];
        foreach ((array) json_decode($this->problems, true, 8, \JSON_THROW_ON_ERROR) as $problem) {
            \assert(\is_array($problem) && \is_string($problem['code']) && \is_string($problem['text']));
            $problems[] = ['code' => $problem['code'], 'text' => $problem['text']];
        }

        return $problems;
    }

    public function look(): FrameLook
    {
        return new FrameLook('[]' === $this->problems ? [] : array_column($this->problems(), 'code'), $this->measures);
    }

    public function toFile(): FrameToFile
    {
        return new FrameToFile(
            $this->id,
            $this->files,
            $this->naming,
            $this->state,
            $this->sameAs,
            $this->fingerprints,
            array_map(static fn (?FiledAt $copy): ?string => $copy?->path, $this->repairs),
            $this->exposed,
        );
    }

    public function bytes(): int
    {
        $bytes = 0;
        foreach ($this->files as $file) {
            $bytes += $file->bytes;
        }

        return $bytes;
    }

    /** `raw + JPEG`, `JPEG` and so on: the kinds of the frame's stills in words. */
    public function kinds(): string
    {
        return implode(
            ' + ',
            FileKind::inWords(array_map(static fn (CardFile $file): FileKind => $file->kind, $this->files)),
        );
    }
}
