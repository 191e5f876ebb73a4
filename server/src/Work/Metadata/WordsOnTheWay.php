<?php

declare(strict_types=1);

namespace Velvet\Server\Work\Metadata;

use Velvet\Core\Bytes\FileBytes;
use Velvet\Core\Copy\Transfer;
use Velvet\Core\Filed\FrameWords;
use Velvet\Core\Keyword\KeywordTree;
use Velvet\Core\Metadata\History;
use Velvet\Core\Metadata\Metadata;
use Velvet\Core\Metadata\PictureFile;
use Velvet\Core\Metadata\Splice;
use Velvet\Server\Work\Keywords\Keywords;

/**
 * What files are to say that are copied together, written into each while it comes from its card, and what each said
 * itself. It is decided before the files are filed; {@see \Velvet\Server\Work\Intakes\Filing} asks again then.
 */
final class WordsOnTheWay
{
    /** @var array<int, array{said: Metadata, keywords: list<int>, wrote: Metadata}> by the transfer's id */
    private array $written = [];

    /** @var array<string, KeywordTree> by the ids that they are about */
    private array $trees = [];

    /**
     * @param array<int, FrameWords> $words   of the frames as they are known by now, by the frame on the card
     * @param \DateTimeImmutable     $startedAt when the intake began
     * @param bool                   $struckToo as for {@see FrameWords::ratingWritten()}
     */
    public function __construct(
        private readonly Keywords $keywords,
        private readonly array $words,
        private readonly \DateTimeImmutable $startedAt,
        public readonly bool $struckToo,
    ) {
    }

    /**
     * For {@see \Velvet\Core\Copy\FileToCopy::$words}.
     *
     * @return \Closure(FileBytes): Splice
     */
    public function of(Transfer $transfer, PictureFile $kind): \Closure
    {
        return function (FileBytes $bytes) use ($transfer, $kind): Splice {
            $said = $kind->read($bytes);
            $own = $this->keywords->idsSaidBy($said);
            $words = $this->words[$transfer->frame()];
            $all = new FrameWords(
                $words->frame,
                $words->says,
                $words->rating,
                $words->own,
                array_values(array_unique([...$words->keywords, ...$own])),
                $words->verdict,
                $words->tabs,
                $words->judgedBy,
            );
            $planned = $transfer->words() ?? throw new \LogicException('It says nothing.');
            $wrote = FrameMetadata::said($all, $planned->ofFile, $this->tree($all->keywords), $this->struckToo);
            $splice = $kind->with($bytes, $wrote, History::of($this->startedAt, $planned->clock));
            $this->written[$transfer->id()] = ['said' => $said, 'keywords' => $own, 'wrote' => $wrote];

            return $splice;
        };
    }

    /** What was written into a file; null where nothing was. */
    public function wrote(Transfer $transfer): ?Metadata
    {
        return $this->written[$transfer->id()]['wrote'] ?? null;
    }

    /** What it said itself. */
    public function said(Transfer $transfer): Metadata
    {
        return $this->written[$transfer->id()]['said'] ?? new Metadata();
    }

    /** @return list<int> ids of the keywords that it said itself */
    public function ownKeywords(Transfer $transfer): array
    {
        return $this->written[$transfer->id()]['keywords'] ?? [];
    }

    /** @param list<int> $ids */
    private function tree(array $ids): KeywordTree
    {
        return $this->trees[implode(' ', $ids)] ??= $this->keywords->about($ids);
    }
}
