<?php

declare(strict_types=1);

namespace Velvet\Server\Work\Metadata;

use Velvet\Core\Keyword\Keyword;
use Velvet\Core\Keyword\KeywordList;
use Velvet\Core\Keyword\KeywordPath;
use Velvet\Core\Keyword\KeywordRefused;
use Velvet\Server\Store\KeptKeywords;
use Velvet\Server\Store\Lock;
use Velvet\Server\Store\Locks;
use Velvet\Server\Store\Transaction;
use Velvet\Server\Work\Keywords\Keywords;

/** Changes in the catalogue of keywords hold for every frame, and the files follow in the background. */
final readonly class KeywordEdits
{
    public function __construct(
        private Keywords $keywords,
        private KeptKeywords $kept,
        private Transaction $transaction,
        private Locks $locks,
        private MetadataQueue $queue,
    ) {
    }

    /**
     * @param Keyword $wanted one of the catalogue, as it is to be
     *
     * @throws KeywordRefused
     */
    public function change(Keyword $wanted): void
    {
        [$id, $above] = [$wanted->id, $wanted->above];
        $tree = $this->keywords->about([$id, ...(null === $above ? [] : [$above])], [KeywordPath::of([$wanted->name])]);
        $now = $tree->get($id);
        if (null !== $above && $tree->isWithin($above, $id)) {
            throw KeywordRefused::intoItself($now->name);
        }
        $path = KeywordPath::of([...(null === $above ? [] : $tree->path($above)->names), $wanted->name]);
        $there = $tree->find($path);
        if (null !== $there && $there->id !== $id) {
            throw KeywordRefused::taken($tree->path($there->id));
        }
        $this->transaction->of(fn () => $this->keep($wanted, $now));
        $this->queue->begin();
    }

    /**
     * Makes one keyword of two: frames that have the first have the other then, and what lies beneath the first goes
     * beneath the other.
     *
     * @throws KeywordRefused
     */
    public function merge(int $id, int $into): void
    {
        $tree = $this->keywords->about([$id, $into]);
        if ($tree->isWithin($into, $id)) {
            throw KeywordRefused::intoItself($tree->get($id)->name);
        }
        $this->transaction->of(fn () => $this->mergeInto($tree->get($id), $into));
        $this->queue->begin();
    }

    /** Takes a keyword, and what lies beneath it, out of the catalogue and off every frame. */
    public function delete(int $id): void
    {
        $this->transaction->of(function () use ($id): void {
            $this->follow($id);
            foreach ($this->kept->beneath($id) as $gone) {
                $this->kept->replaceOnSheets($gone, null);
            }
            $this->kept->remove($id);
        });
        $this->queue->begin();
    }

    /**
     * Takes in a list: keywords that are there get its synonyms and marks, others are added.
     *
     * @return int how many were added
     */
    public function import(KeywordList $list): int
    {
        $before = $this->kept->count();
        $this->transaction->of(function () use ($list): void {
            $this->locks->untilCommitted(Lock::AddedKeywords);
            $ids = $this->keywords->added(array_column($list->keywords, 'path'), $this->keywords->tree());
            $tree = $this->keywords->tree();
            $changed = [];
            foreach ($list->keywords as $i => $listed) {
                $now = $changed[$ids[$i]] ?? $tree->get($ids[$i]);
                $changed[$now->id] = $now->with($listed);
                $this->keep($changed[$now->id], $now);
            }
        });
        $this->queue->begin();

        return $this->kept->count() - $before;
    }

    /** Its frames' files follow where they would be written otherwise. */
    private function keep(Keyword $keyword, Keyword $now): void
    {
        $this->kept->keep($keyword);
        if (!$keyword->isWrittenLike($now)) {
            $this->follow($keyword->id);
        }
    }

    private function mergeInto(Keyword $from, int $into): void
    {
        $this->follow($from->id);
        $this->kept->giveAlso($from->id, $into);
        $this->kept->replaceOnSheets($from->id, $into);
        foreach ($this->kept->pairs($from->id, $into) as $beneath => $same) {
            if (null === $same) {
                $this->kept->putBeneath($beneath, $into);
            } else {
                $this->mergeInto($this->keywords->about([$beneath])->get($beneath), $same);
            }
        }
        $this->kept->keep($this->keywords->about([$into])->get($into)->foundBy([$from->name, ...$from->synonyms]));
        $this->kept->remove($from->id);
    }

    /** The files of every frame that has a keyword, or one beneath it, follow. */
    private function follow(int $id): void
    {
        $this->queue->ask($this->kept->frames($id));
    }
}
