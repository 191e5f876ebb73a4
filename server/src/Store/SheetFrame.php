<?php

declare(strict_types=1);

namespace Velvet\Server\Store;

use Velvet\Core\Capture\PictureMeasures;
use Velvet\Core\Capture\ShotTime;
use Velvet\Core\Card\CardFile;
use Velvet\Core\Card\FileKind;
use Velvet\Core\Plan\FrameLook;
use Velvet\Core\Plan\FrameToFile;
use Velvet\Core\Style\Pairs;

/** A frame as it lies on a sheet, with what the database knows of it. */
final readonly class SheetFrame
{
    /**
     * @param FrameToFile        $frame    as the plan takes it; in no run yet
     * @param string             $problems JSON of {@see \Velvet\Core\Capture\CaptureProblem}s
     * @param list<FiledAt|null> $repairs  the filed copy of each file that is missing or damaged somewhere
     */
    public function __construct(
        public FrameToFile $frame,
        public int $cardId,
        public string $camera,
        private string $problems,
        private ?string $picture,
        public ?PictureMeasures $measures,
        public array $repairs,
    ) {
    }

    /** When it was taken, corrected where its camera's clock was wrong. */
    public function capturedAt(): ?ShotTime
    {
        return $this->frame->naming->shotAt;
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

    /** Key of the picture that stands for it; null where there is none. */
    public function picture(Pairs $pairs): ?string
    {
        return $pairs->picture($this->frame->files, $this->frame->fingerprints, $this->picture);
    }

    public function look(): FrameLook
    {
        return new FrameLook('[]' === $this->problems ? [] : array_column($this->problems(), 'code'), $this->measures);
    }

    public function bytes(): int
    {
        $bytes = 0;
        foreach ($this->frame->files as $file) {
            $bytes += $file->bytes;
        }

        return $bytes;
    }

    /** `raw + JPEG`, `JPEG` and so on: the kinds of the frame's stills in words. */
    public function kinds(): string
    {
        static $words = []; // of a sheet's thousands there are few kinds
        $kinds = '';
        foreach ($this->frame->files as $file) {
            $kinds .= ' '.$file->kind->value;
        }

        /** @var array<string, string> $words */
        return $words[$kinds] ??= implode(
            ' + ',
            FileKind::inWords(array_map(static fn (CardFile $file): FileKind => $file->kind, $this->frame->files)),
        );
    }
}
