<?php

declare(strict_types=1);

namespace Velvet\Server\Work\Metadata;

use Doctrine\DBAL\Connection;
use Psr\Clock\ClockInterface;
use Velvet\Core\Keyword\Keyword;
use Velvet\Core\Keyword\KeywordList;
use Velvet\Core\Keyword\KeywordPath;
use Velvet\Core\Keyword\KeywordRefused;
use Velvet\Core\Keyword\KeywordTree;
use Velvet\Core\Keyword\ListedKeyword;
use Velvet\Core\Metadata\Metadata;
use Velvet\Server\Store\Lock;
use Velvet\Server\Store\Locks;
use Velvet\Server\Store\Row;
use Velvet\Server\Store\Rows;

/**
 * The catalogue of keywords. What is changed here is changed for every frame, and the files follow in the background.
 */
final readonly class Keywords
{
    /** One of a keyword `k`, with how often and when it was used. */
    private const KEYWORD = <<<'SQL'
        SELECT k.*, extract(epoch FROM k.last_used)::bigint AS used,
            (SELECT count(*) FROM frame_keyword f WHERE f.keyword_id = k.id) AS uses
        SQL;
    /** A keyword and all that lie beneath it. */
    private const BENEATH = 'WITH RECURSIVE beneath AS (SELECT id FROM keyword WHERE id = :id UNION SELECT k.id
        FROM keyword k JOIN beneath b ON k.above = b.id)';

    public function __construct(
        private Connection $database,
        private Rows $rows,
        private Locks $locks,
        private Following $following,
        private ClockInterface $clock,
    ) {
    }

    /** The whole catalogue: for whoever shows or searches it. It may be long; see {@see self::about}. */
    public function tree(): KeywordTree
    {
        return new KeywordTree(array_map(self::read(...), $this->rows->all(self::KEYWORD.' FROM keyword k')));
    }

    /**
     * The part of the catalogue that has to do with some keywords: they, all of the names that stand in the paths, and
     * those above them. Of these it tells what the whole would tell.
     *
     * @param list<int>         $ids   of keywords; others than those of the catalogue are passed over
     * @param list<KeywordPath> $paths
     */
    public function about(array $ids, array $paths = []): KeywordTree
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

        return new KeywordTree(array_map(self::read(...), $this->rows->all(<<<'SQL'
            WITH RECURSIVE line AS (
                SELECT id FROM keyword
                    WHERE id = ANY(ARRAY(SELECT value::int FROM jsonb_array_elements_text(CAST(:ids AS jsonb))))
                UNION SELECT id FROM keyword
                    WHERE folded = ANY(ARRAY(SELECT jsonb_array_elements_text(CAST(:names AS jsonb))))
                UNION SELECT k.above FROM line l,
                    -- one by one, by its number: how few they are is not known beforehand
                    LATERAL (SELECT above FROM keyword WHERE id = l.id AND above IS NOT NULL OFFSET 0) k
            )
            SQL.' '.self::KEYWORD.' FROM keyword k WHERE k.id = ANY(ARRAY(SELECT id FROM line))', [
            'ids' => json_encode($ids, \JSON_THROW_ON_ERROR),
            'names' => json_encode(array_values(array_unique($names)), \JSON_THROW_ON_ERROR | \JSON_UNESCAPED_UNICODE),
        ])));
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

        return $this->database->transactional(function () use ($paths): array {
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
        $this->database->executeStatement(
            'UPDATE keyword SET last_used = :now WHERE id IN (SELECT value::int
                FROM jsonb_array_elements_text(CAST(:ids AS jsonb)))',
            ['now' => $this->clock->now()->format('c'), 'ids' => json_encode($ids, \JSON_THROW_ON_ERROR)],
        );
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
        $heading ??= $now->heading;
        $private ??= $now->private;
        $withAbove ??= $now->withAbove;
        $this->database->transactional(function () use ($id, $now, $name, $above, $heading, $private, $withAbove, $synonyms): void {
            $this->database->executeStatement('UPDATE keyword
                SET name = :name, folded = :folded, above = :above, heading = :heading, private = :private,
                with_above = :with, synonyms = CAST(:synonyms AS jsonb) WHERE id = :id', [
                'id' => $id, 'name' => $name, 'folded' => KeywordPath::folded($name), 'above' => $above,
                'heading' => $heading ? 'true' : 'false',
                'private' => $private ? 'true' : 'false',
                'with' => $withAbove ? 'true' : 'false',
                'synonyms' => json_encode(
                    array_map(KeywordPath::name(...), $synonyms ?? $now->synonyms),
                    \JSON_THROW_ON_ERROR | \JSON_UNESCAPED_UNICODE,
                ),
            ]);
            $was = [$now->name, $now->above, $now->heading, $now->private, $now->withAbove];
            if ([$name, $above, $heading, $private, $withAbove] !== $was) {
                $this->follow($id);
            }
        });
        $this->following->begin();
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
        $this->database->transactional(fn () => $this->mergeInto($tree->get($id), $into));
        $this->following->begin();
    }

    /** Takes a keyword, and what lies beneath it, out of the catalogue and off every frame. */
    public function delete(int $id): void
    {
        $this->database->transactional(function () use ($id): void {
            $this->follow($id);
            $gone = array_map(
                static fn (Row $row): int => $row->int('id'),
                $this->rows->all(self::BENEATH.' SELECT id FROM beneath', ['id' => $id]),
            );
            foreach ($gone as $keyword) {
                $this->replaceOnSheets($keyword, null);
            }
            $this->database->executeStatement(
                self::BENEATH.' DELETE FROM keyword WHERE id IN (SELECT id FROM beneath)',
                ['id' => $id],
            );
        });
        $this->following->begin();
    }

    /**
     * Takes in a list: keywords that are there get its synonyms and marks, others are added. @return int how many were
     * added.
     */
    public function import(KeywordList $list): int
    {
        $before = $this->rows->one('SELECT count(*) AS n FROM keyword')->int('n');
        $this->database->transactional(function () use ($list): void {
            $this->locks->untilCommitted(Lock::AddedKeywords);
            $tree = $this->tree();
            $added = [];
            foreach ($list->keywords as $listed) {
                $id = $this->idOf($listed->path, $tree, $added);
                $this->mark($id, $listed, $tree->has($id) ? $tree->get($id) : null);
            }
        });
        $this->following->begin();

        return $this->rows->one('SELECT count(*) AS n FROM keyword')->int('n') - $before;
    }

    private function mark(int $id, ListedKeyword $listed, ?Keyword $now): void
    {
        $synonyms = array_values(array_unique([...($now->synonyms ?? []), ...$listed->synonyms]));
        $marks = [
            $listed->heading || ($now->heading ?? false),
            $listed->private || ($now->private ?? false),
            $listed->withAbove && ($now->withAbove ?? true),
        ];
        $this->database->executeStatement('UPDATE keyword
            SET heading = :heading, private = :private, with_above = :with, synonyms = CAST(:synonyms AS jsonb)
            WHERE id = :id', [
            'id' => $id, 'heading' => $marks[0] ? 'true' : 'false', 'private' => $marks[1] ? 'true' : 'false',
            'with' => $marks[2] ? 'true' : 'false',
            'synonyms' => json_encode($synonyms, \JSON_THROW_ON_ERROR | \JSON_UNESCAPED_UNICODE),
        ]);
        if (null !== $now && $marks !== [$now->heading, $now->private, $now->withAbove]) {
            $this->follow($id);
        }
    }

    /** @param array<string, int> $added ids of those that were added since the tree was read, by their paths */
    private function idOf(KeywordPath $path, KeywordTree $tree, array &$added): int
    {
        $found = $added[$path->key()] ?? $tree->find($path)?->id;
        if (null !== $found) {
            return $found;
        }
        $above = $path->above();
        $id = $this->rows->one(
            'INSERT INTO keyword (above, name, folded) VALUES (:above, :name, :folded) RETURNING id',
            [
                'above' => null === $above ? null : $this->idOf($above, $tree, $added),
                'name' => $path->last(),
                'folded' => KeywordPath::folded($path->last()),
            ],
        )->int('id');

        return $added[$path->key()] = $id;
    }

    private function mergeInto(Keyword $from, int $into): void
    {
        $this->follow($from->id);
        $this->database->executeStatement(
            'INSERT INTO frame_keyword (frame_id, keyword_id) SELECT frame_id, :into FROM frame_keyword
                WHERE keyword_id = :id ON CONFLICT DO NOTHING',
            ['id' => $from->id, 'into' => $into],
        );
        $this->replaceOnSheets($from->id, $into);
        foreach ($this->rows->all('SELECT k.id, (SELECT o.id FROM keyword o WHERE o.above = :into
            AND o.folded = k.folded) AS same FROM keyword k WHERE k.above = :id', ['id' => $from->id, 'into' => $into]) as $row) {
            $same = $row->intOrNull('same');
            if (null === $same) {
                $this->database->executeStatement(
                    'UPDATE keyword SET above = :into WHERE id = :id',
                    ['into' => $into, 'id' => $row->int('id')],
                );
            } else {
                $this->mergeInto($this->about([$row->int('id')])->get($row->int('id')), $same);
            }
        }
        $target = $this->about([$into])->get($into);
        // what it was called finds the other from now on
        $synonyms = array_values(
            array_unique(
                array_filter(
                    [...$target->synonyms, $from->name, ...$from->synonyms],
                    static fn (string $word): bool => KeywordPath::folded($word) !== KeywordPath::folded($target->name),
                ),
            ),
        );
        $this->database->executeStatement(
            'UPDATE keyword SET synonyms = CAST(:synonyms AS jsonb) WHERE id = :id',
            ['synonyms' => json_encode($synonyms, \JSON_THROW_ON_ERROR | \JSON_UNESCAPED_UNICODE), 'id' => $into],
        );
        $this->database->executeStatement('DELETE FROM keyword WHERE id = :id', ['id' => $from->id]);
    }

    /** The files of every frame that has a keyword, or one beneath it, follow. */
    private function follow(int $id): void
    {
        $this->following->ask(
            array_map(
                static fn (Row $row): int => $row->int('frame_id'),
                $this->rows->all(
                    self::BENEATH.' SELECT DISTINCT f.frame_id FROM frame_keyword f
                        JOIN beneath b ON b.id = f.keyword_id',
                    ['id' => $id],
                ),
            ),
        );
    }

    private function replaceOnSheets(int $id, ?int $by): void
    {
        foreach ($this->rows->all('SELECT id, keywords FROM entry WHERE keywords @> CAST(:id AS jsonb)', ['id' => (string) $id]) as $row) {
            $ids = array_values(
                array_unique(
                    array_filter(
                        array_map(
                            static fn (mixed $one): ?int => $one === $id ? $by : (\is_int($one) ? $one : null),
                            $row->json('keywords'),
                        ),
                        is_int(...),
                    ),
                ),
            );
            $this->database->executeStatement(
                'UPDATE entry SET keywords = CAST(:keywords AS jsonb) WHERE id = :id',
                ['keywords' => json_encode($ids, \JSON_THROW_ON_ERROR), 'id' => $row->int('id')],
            );
        }
    }

    private static function read(Row $row): Keyword
    {
        return new Keyword(
            $row->int('id'), $row->intOrNull('above'), $row->text('name'), $row->bool('heading'), $row->bool('private'),
            $row->bool('with_above'),
            array_values(array_filter($row->json('synonyms'), is_string(...))), $row->int('uses'),
            $row->intOrNull('used') ?? 0,
        );
    }
}
