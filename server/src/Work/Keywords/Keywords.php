<?php

declare(strict_types=1);

namespace Velvet\Server\Work\Keywords;

use Psr\Clock\ClockInterface;
use Velvet\Core\Keyword\Keyword;
use Velvet\Core\Keyword\KeywordPath;
use Velvet\Core\Keyword\KeywordTree;
use Velvet\Core\Metadata\Metadata;
use Velvet\Server\Store\KeptKeywords;
use Velvet\Server\Store\Lock;
use Velvet\Server\Store\Locks;
use Velvet\Server\Store\Transaction;

/** The catalogue of keywords: found, and added to. What is there already is changed by `Metadata\KeywordEdits`. */
final readonly class Keywords
{
    public function __construct(
        private KeptKeywords $kept,
        private Transaction $transaction,
        private Locks $locks,
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

            return array_values(array_unique($this->added(array_map($tree->placed(...), $paths), $tree)));
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
     * The id of each keyword, in the order of the paths; those that the tree has not are added, with those above them.
     * Within a transaction that holds {@see Lock::AddedKeywords}.
     *
     * @param list<KeywordPath> $paths as they stand in the tree
     *
     * @return list<int>
     */
    public function added(array $paths, KeywordTree $tree): array
    {
        $ids = $added = [];
        foreach ($paths as $path) { // one may lie beneath another that was just added
            $ids[] = $this->idOf($path, $tree, $added);
        }

        return $ids;
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
}
