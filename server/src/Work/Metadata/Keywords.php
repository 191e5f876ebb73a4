<?php

declare(strict_types=1);

namespace Velvet\Server\Work\Metadata;

use Psr\Clock\ClockInterface;
use Velvet\Core\Keyword\Keyword;
use Velvet\Core\Keyword\KeywordList;
use Velvet\Core\Keyword\KeywordPath;
use Velvet\Core\Keyword\KeywordRefused;
use Velvet\Core\Keyword\KeywordTree;
use Velvet\Core\Metadata\Metadata;
use Velvet\Server\Store\KeptKeywords;
use Velvet\Server\Store\Lock;
use Velvet\Server\Store\Locks;
use Velvet\Server\Store\Transaction;

/**
 * The catalogue of keywords. What is changed here is changed for every frame, and the files follow in the background.
 */
final readonly class Keywords
{
    public function __construct(
        private KeptKeywords $kept,
        private Transaction $transaction,
        private Locks $locks,
        private MetadataQueue $queue,
        private ClockInterface $clock,
    ) {
    }

    /** The whole catalogue: for whoever shows or searches it. It may be long; see {@see self::about}. */
    public function tree(): KeywordTree
    {
        return new KeywordTree($this->kept->all());
    }

    /**
     * The part of the catalogue that has to do with some keywords: they, all of the names that stand in the paths, and
     * those above them. Of these it tells what the whole would tell.
     *
     * @param list<int>         $ids   of keywords; others than those of the catalogue are passed over
     * @param list<KeywordPath> $paths
     * @param bool              $hold  within a transaction: nobody changes them before its end
     */
    public function about(array $ids, array $paths = [], bool $hold = false): KeywordTree
    {
        $names = array_merge(
            [],
            ...array_map(
                static fn (KeywordPath $path): array => array_map(KeywordPath::folded(...), $path->names),
                $paths,
            ),
        );
        if ([] === $ids && [] === $names) {
            return new KeywordTree();
        }

        return new KeywordTree($this->kept->about($ids, $names, $hold));
    }

    /**
     * The ids of the keywords that a file has; they are added where the catalogue has them not.
     *
     * @return list<int>
     */
    public function idsSaidBy(Metadata $file): array
    {
        return $this->ids($this->about([], KeywordTree::namedBy($file))->saidBy($file));
    }

    /**
     * The ids of keywords, which are added where the catalogue has them not, with those above them.
     *
     * @param list<KeywordPath> $paths
     *
     * @return list<int>
     */
    public function ids(array $paths): array
    {
        if ([] === $paths) {
            return [];
        }

        return $this->transaction->of(function () use ($paths): array {
            $this->locks->untilCommitted(Lock::AddedKeywords);
            $tree = $this->about([], $paths);
            $added = [];

            return array_values(
                array_unique(
                    array_map(fn (KeywordPath $path): int => $this->idOf($tree->placed($path), $tree, $added), $paths),
                ),
            );
        });
    }

    /**
     * Keywords that were just given to frames or entries come first where keywords are offered.
     *
     * @param list<int> $ids
     */
    public function used(array $ids): void
    {
        $this->kept->used($ids, $this->clock->now());
    }

    /**
     * @param list<string>|null $synonyms
     *
     * @throws KeywordRefused
     */
    public function change(
        int $id,
        ?string $name,
        int|false|null $above,
        ?bool $heading,
        ?bool $private,
        ?bool $withAbove,
        ?array $synonyms,
    ): void {
        $now = $this->about([$id])->get($id);
        $name = null === $name ? $now->name : KeywordPath::name($name);
        $above = false === $above ? $now->above : $above;
        $tree = $this->about([$id, ...(null === $above ? [] : [$above])], [KeywordPath::of([$name])]);
        if (null !== $above && $tree->isWithin($above, $id)) {
            throw KeywordRefused::intoItself($now->name);
        }
        $path = KeywordPath::of([...(null === $above ? [] : $tree->path($above)->names), $name]);
        $there = $tree->find($path);
        if (null !== $there && $there->id !== $id) {
            throw KeywordRefused::taken($tree->path($there->id));
        }
        $changed = new Keyword(
            $id,
            $above,
            $name,
            $heading ?? $now->heading,
            $private ?? $now->private,
            $withAbove ?? $now->withAbove,
            null === $synonyms ? $now->synonyms : array_map(KeywordPath::name(...), $synonyms),
        );
        $this->transaction->of(fn () => $this->keep($changed, $now));
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
        $tree = $this->about([$id, $into]);
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
     * Takes in a list: keywords that are there get its synonyms and marks, others are added. @return int how many were
     * added.
     */
    public function import(KeywordList $list): int
    {
        $before = $this->kept->count();
        $this->transaction->of(function () use ($list): void {
            $this->locks->untilCommitted(Lock::AddedKeywords);
            $tree = $this->tree();
            $added = [];
            foreach ($list->keywords as $listed) {
                $id = $this->idOf($listed->path, $tree, $added);
                $now = $added[$listed->path->key()] ?? $tree->get($id);
                $added[$listed->path->key()] = $now->with($listed);
                $this->keep($now->with($listed), $now);
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

    /** @param array<string, Keyword> $added since the tree was read, by their paths */
    private function idOf(KeywordPath $path, KeywordTree $tree, array &$added): int
    {
        $found = $added[$path->key()] ?? $tree->find($path);
        if (null !== $found) {
            return $found->id;
        }
        $above = null === $path->above() ? null : $this->idOf($path->above(), $tree, $added);
        $added[$path->key()] = new Keyword($this->kept->add($path->last(), $above), $above, $path->last());

        return $added[$path->key()]->id;
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
                $this->mergeInto($this->about([$beneath])->get($beneath), $same);
            }
        }
        $this->kept->keep($this->about([$into])->get($into)->foundBy([$from->name, ...$from->synonyms]));
        $this->kept->remove($from->id);
    }

    /** The files of every frame that has a keyword, or one beneath it, follow. */
    private function follow(int $id): void
    {
        $this->queue->ask($this->kept->frames($id));
    }
}
