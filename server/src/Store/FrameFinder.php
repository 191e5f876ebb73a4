<?php

declare(strict_types=1);

namespace Velvet\Server\Store;

/** Filed frames by the paths of their files. */
final readonly class FrameFinder
{
    private const FILES = 'SELECT f.id AS frame, f.shoot_id AS shoot, p.path, p.original_path
        FROM filed_file p JOIN filed_frame f ON f.id = p.frame_id';

    public function __construct(private Rows $rows)
    {
    }

    /** @return array{shoot: int, frame: int}|null of the file at an absolute path, on a shelf or on its twin */
    public function at(string $path): ?array
    {
        return self::found($this->rows->first(<<<'SQL'
            SELECT f.id AS frame, f.shoot_id AS shoot FROM shelf h
                JOIN shoot s ON s.shelf_id = h.id JOIN filed_frame f ON f.shoot_id = s.id
                JOIN filed_file p ON p.frame_id = f.id
            WHERE NOT f.loose AND (
                (starts_with(:path, h.root || '/') AND p.path = substr(:path, length(h.root) + 2))
                OR (starts_with(:path, h.twin_root || '/') AND p.path = substr(:path, length(h.twin_root) + 2))
            ) LIMIT 1
            SQL, ['path' => $path]));
    }

    /** @return array{shoot: int, frame: int}|null of the file at a path below its shelf */
    public function below(string $path): ?array
    {
        return self::found($this->rows->first(
            'SELECT f.id AS frame, f.shoot_id AS shoot FROM filed_file p JOIN filed_frame f ON f.id = p.frame_id
                WHERE p.path = :path AND NOT f.loose LIMIT 1',
            ['path' => $path],
        ));
    }

    /**
     * @param non-empty-list<int> $shoots
     * @param string              $name   of a file, or its stem
     *
     * @return array{shoot: int, frame: int}|null
     */
    public function named(array $shoots, string $name): ?array
    {
        return self::found($this->rows->first(
            "SELECT f.id AS frame, f.shoot_id AS shoot FROM filed_file p JOIN filed_frame f ON f.id = p.frame_id
                WHERE f.shoot_id IN (:shoots) AND NOT f.loose AND :name IN (f.stem, regexp_replace(p.path, '^.*/', ''))
                LIMIT 1",
            ['shoots' => $shoots, 'name' => $name],
        ));
    }

    /**
     * Files of the frames of shoots.
     *
     * @param non-empty-list<int> $shoots
     *
     * @return iterable<Row> `frame`, `shoot`, `path` as it is and `original_path` as it was on the card
     */
    public function filesOf(array $shoots): iterable
    {
        return $this->rows->each(self::FILES.' WHERE NOT f.loose AND f.shoot_id IN (:shoots)', ['shoots' => $shoots]);
    }

    /**
     * Files of frames that lie in a folder of a shelf or of its twin, and not below it.
     *
     * @param string $folder absolute
     *
     * @return iterable<Row> as {@see self::filesOf()}
     */
    public function filesIn(string $folder): iterable
    {
        // by the order of their bytes, `0` comes next to `/`
        return $this->rows->each(
            self::FILES.<<<'SQL'
                 JOIN shelf h ON h.id = p.shelf_id
                    CROSS JOIN LATERAL (VALUES (h.root), (h.twin_root)) AS r(root)
                    CROSS JOIN LATERAL (SELECT substr(:folder, length(r.root) + 2) AS within) AS w
                WHERE NOT f.loose AND starts_with(:folder, r.root || '/')
                    AND p.path >= w.within || '/' AND p.path < w.within || '0'
                    AND strpos(substr(p.path, length(w.within) + 2), '/') = 0
                SQL,
            ['folder' => $folder],
        );
    }

    /**
     * What the first look has of frames, in capture order, shoot by shoot.
     *
     * @return list<Row> `id`, `shoot_id` and the `shoot`'s name, `path` of the frame's first file below its shelf,
     *     `verdict`, `rating`, `judged_by`, names of its `tabs`
     */
    public function judged(FrameSearch $search): array
    {
        $parameters = [];
        $where = '';
        foreach ($search->conditions() as [$condition, $name, $value]) {
            $parameters[$name] = $value;
            $where .= ' AND '.$condition;
        }

        return $this->rows->all(
            "SELECT f.id, s.id AS shoot_id, s.name AS shoot, (SELECT p.path FROM filed_file p WHERE p.frame_id = f.id
                    ORDER BY p.id LIMIT 1) AS path, f.verdict, f.rating, f.judged_by,
                    (SELECT coalesce(jsonb_agg(t.name ORDER BY t.id), '[]') FROM tab t
                        WHERE f.tabs @> to_jsonb(t.id)) AS tabs
                FROM filed_frame f JOIN shoot s ON s.id = f.shoot_id
                WHERE NOT f.loose AND f.whereabouts NOT IN ('deleted', 'forgotten')
                    AND EXISTS (SELECT FROM filed_file p WHERE p.frame_id = f.id)".$where
                .' ORDER BY s.day NULLS LAST, s.id, f.captured_at NULLS LAST, f.stem, f.id',
            $parameters,
        );
    }

    /** @return array{shoot: int, frame: int}|null */
    private static function found(?Row $row): ?array
    {
        return null === $row ? null : ['shoot' => $row->int('shoot'), 'frame' => $row->int('frame')];
    }
}
