<?php

declare(strict_types=1);

namespace Velvet\Server\Store;

use Doctrine\DBAL\Connection;
use Velvet\Core\Keyword\Keyword;
use Velvet\Core\Keyword\KeywordPath;

/** The keywords of the catalogue, and the frames and entries that have them. */
final readonly class KeptKeywords
{
    /** One of a keyword `k`, with how often and when it was used. */
    private const KEYWORD = <<<'SQL'
        SELECT k.*, extract(epoch FROM k.last_used)::bigint AS used,
            (SELECT count(*) FROM frame_keyword f WHERE f.keyword_id = k.id) AS uses
        FROM keyword k
        SQL;
    /** A keyword and all that lie beneath it. */
    private const BENEATH = <<<'SQL'
        WITH RECURSIVE beneath AS (
            SELECT id FROM keyword WHERE id = :id
            UNION SELECT k.id FROM keyword k JOIN beneath b ON k.above = b.id
        )
        SQL;

    public function __construct(private Connection $database, private Rows $rows)
    {
    }

    /** @return list<Keyword> */
    public function all(): array
    {
        return array_map(self::read(...), $this->rows->all(self::KEYWORD));
    }

    /**
     * @param list<int>    $ids
     * @param list<string> $names as {@see KeywordPath::folded()} gives them
     *
     * @param bool         $hold within a transaction: nobody changes them before its end
     *
     * @return list<Keyword> those, and all that lie above them; how often they are used is not counted
     */
    public function about(array $ids, array $names, bool $hold = false): array
    {
        return array_map(self::read(...), $this->rows->all(<<<'SQL'
            WITH RECURSIVE line AS (
                SELECT id FROM keyword
                    WHERE id = ANY(ARRAY(SELECT value::int FROM jsonb_array_elements_text(CAST(:ids AS jsonb))))
                UNION SELECT id FROM keyword
                    WHERE folded = ANY(ARRAY(SELECT jsonb_array_elements_text(CAST(:names AS jsonb))))
                UNION SELECT k.above FROM line l,
                    -- one by one, by its number: how few they are is not known beforehand
                    LATERAL (SELECT above FROM keyword WHERE id = l.id AND above IS NOT NULL OFFSET 0) k
            )
            SELECT k.*, extract(epoch FROM k.last_used)::bigint AS used, 0 AS uses FROM keyword k
            WHERE k.id = ANY(ARRAY(SELECT id FROM line)) ORDER BY k.id
            SQL.($hold ? ' FOR SHARE OF k' : ''), [
            'ids' => json_encode($ids, \JSON_THROW_ON_ERROR),
            'names' => self::json(array_values(array_unique($names))),
        ]));
    }

    public function count(): int
    {
        return $this->rows->one('SELECT count(*) AS n FROM keyword')->int('n');
    }

    /** @return int its id */
    public function add(string $name, ?int $above): int
    {
        return $this->rows->one(
            'INSERT INTO keyword (above, name, folded) VALUES (:above, :name, :folded) RETURNING id',
            ['above' => $above, 'name' => $name, 'folded' => KeywordPath::folded($name)],
        )->int('id');
    }

    /** Keeps all of a keyword but its uses. */
    public function keep(Keyword $keyword): void
    {
        $this->database->executeStatement(<<<'SQL'
            UPDATE keyword
            SET name = :name, folded = :folded, above = :above, heading = :heading, private = :private,
                with_above = :with, synonyms = CAST(:synonyms AS jsonb)
            WHERE id = :id
            SQL, [
            'id' => $keyword->id,
            'name' => $keyword->name,
            'folded' => KeywordPath::folded($keyword->name),
            'above' => $keyword->above,
            'heading' => $keyword->heading ? 'true' : 'false',
            'private' => $keyword->private ? 'true' : 'false',
            'with' => $keyword->withAbove ? 'true' : 'false',
            'synonyms' => self::json($keyword->synonyms),
        ]);
    }

    /** @param list<int> $ids */
    public function used(array $ids, \DateTimeImmutable $at): void
    {
        $this->database->executeStatement(
            'UPDATE keyword SET last_used = :now WHERE id IN (SELECT value::int
                FROM jsonb_array_elements_text(CAST(:ids AS jsonb)))',
            ['now' => $at->format('c'), 'ids' => json_encode($ids, \JSON_THROW_ON_ERROR)],
        );
    }

    /** @return list<int> the keyword, and all that lie beneath it */
    public function beneath(int $id): array
    {
        return array_map(
            static fn (Row $row): int => $row->int('id'),
            $this->rows->all(self::BENEATH.' SELECT id FROM beneath', ['id' => $id]),
        );
    }

    /**
     * @return array<int, int|null> the keywords right beneath one, each with the one of the same name right beneath the
     *     other
     */
    public function pairs(int $id, int $other): array
    {
        $pairs = [];
        foreach ($this->rows->all(<<<'SQL'
            SELECT k.id, (SELECT o.id FROM keyword o WHERE o.above = :other AND o.folded = k.folded) AS same
            FROM keyword k WHERE k.above = :id
            SQL, ['id' => $id, 'other' => $other]) as $row) {
            $pairs[$row->int('id')] = $row->intOrNull('same');
        }

        return $pairs;
    }

    public function putBeneath(int $id, int $above): void
    {
        $this->database->executeStatement(
            'UPDATE keyword SET above = :above WHERE id = :id',
            ['above' => $above, 'id' => $id],
        );
    }

    /** With all that lie beneath it. */
    public function remove(int $id): void
    {
        $this->database->executeStatement(
            self::BENEATH.' DELETE FROM keyword WHERE id IN (SELECT id FROM beneath)',
            ['id' => $id],
        );
    }

    /** @return list<int> filed frames that have the keyword, or one beneath it */
    public function frames(int $id): array
    {
        return array_map(
            static fn (Row $row): int => $row->int('frame_id'),
            $this->rows->all(
                self::BENEATH.' SELECT DISTINCT f.frame_id FROM frame_keyword f JOIN beneath b ON b.id = f.keyword_id',
                ['id' => $id],
            ),
        );
    }

    /** Filed frames that have one keyword get another one. */
    public function giveAlso(int $id, int $other): void
    {
        $this->database->executeStatement(
            'INSERT INTO frame_keyword (frame_id, keyword_id) SELECT frame_id, :other FROM frame_keyword
                WHERE keyword_id = :id ON CONFLICT DO NOTHING',
            ['id' => $id, 'other' => $other],
        );
    }

    /** @param int|null $by what entries get in its place */
    public function replaceOnSheets(int $id, ?int $by): void
    {
        foreach ($this->rows->all(
            'SELECT id, keywords FROM entry WHERE keywords @> CAST(:id AS jsonb)',
            ['id' => (string) $id],
        ) as $row) {
            $ids = array_map(static fn (mixed $one): mixed => $one === $id ? $by : $one, $row->json('keywords'));
            $this->database->executeStatement(
                'UPDATE entry SET keywords = CAST(:keywords AS jsonb) WHERE id = :id',
                [
                    'keywords' => self::json(array_values(array_unique(array_filter($ids, is_int(...))))),
                    'id' => $row->int('id'),
                ],
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

    /** @param list<int|string> $list */
    private static function json(array $list): string
    {
        return json_encode($list, \JSON_THROW_ON_ERROR | \JSON_UNESCAPED_UNICODE);
    }
}
