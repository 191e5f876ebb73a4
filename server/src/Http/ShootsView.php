<?php

declare(strict_types=1);

namespace Velvet\Server\Http;

use Velvet\Core\Bytes\Digest;
use Velvet\Server\Store\Places;
use Velvet\Server\Store\Row;
use Velvet\Server\Store\Rows;

/** What is filed, as the browser shows it. */
final readonly class ShootsView
{
    private const SHOOT = <<<'SQL'
        SELECT s.id, s.name, s.folder, s.day, h.name AS shelf, h.id AS shelf_id, h.root,
               (SELECT coalesce(jsonb_agg(DISTINCT p.root), '[]') FROM filed_frame w
                   JOIN filed_file v ON v.frame_id = w.id JOIN filed_copy c ON c.file_id = v.id
                   JOIN place p ON p.id = c.place_id WHERE w.shoot_id = s.id
                   AND p.root IN (h.root, h.twin_root)) AS roots,
               count(DISTINCT f.frame_id) AS frames, coalesce(sum(coalesce(f.bytes_now, f.bytes)), 0) AS bytes,
               coalesce(bool_and(f.places > 1), false) AS twinned,
               count(DISTINCT f.frame_id) FILTER (WHERE f.places > 1) AS frames_twinned,
               count(*) FILTER (WHERE f.outside IS NOT NULL) AS outside,
               count(*) FILTER (WHERE f.metadata_state = 'waiting' AND f.outside IS NULL) AS waiting,
               (SELECT coalesce(jsonb_agg(picture), '[]') FROM (
                   SELECT picture FROM (SELECT picture, row_number() OVER (ORDER BY captured_at, stem) - 1 AS n,
                       count(*) OVER () AS total FROM filed_frame p WHERE p.shoot_id = s.id
                       AND p.picture IS NOT NULL) AS spread
                   WHERE n % greatest(1, total / 8) = 0 ORDER BY n LIMIT 8) AS cover) AS pictures
        FROM shoot s JOIN shelf h ON h.id = s.shelf_id JOIN filed_frame ff ON ff.shoot_id = s.id
             JOIN LATERAL (
                 SELECT x.*, (SELECT count(*) FROM filed_copy c JOIN place p ON p.id = c.place_id
                     WHERE c.file_id = x.id AND c.state = 'whole' AND c.digest = coalesce(x.digest_now, x.digest)
                     AND p.id IN (:live)) AS places
                 FROM filed_file x WHERE x.frame_id = ff.id
             ) AS f ON true
        SQL;

    public function __construct(private Rows $rows, private Places $places)
    {
    }

    /** @return list<array<string, mixed>> latest first */
    public function all(): array
    {
        return array_map(
            $this->shoot(...),
            $this->rows->all(
                self::SHOOT.' GROUP BY s.id, h.id ORDER BY s.day DESC NULLS LAST, s.name',
                ['live' => $this->places->connected()],
            ),
        );
    }

    /** @return array<string, mixed>|null */
    public function one(int $id): ?array
    {
        $row = $this->rows->first(
            self::SHOOT.' WHERE s.id = :id GROUP BY s.id, h.id',
            ['id' => $id, 'live' => $this->places->connected()],
        );

        return null === $row ? null : $this->shoot($row);
    }

    /** @return list<int> all frames, in capture order */
    public function ids(int $id): array
    {
        return array_map(
            static fn (Row $row): int => $row->int('id'),
            $this->rows->all(
                'SELECT f.id FROM filed_frame f WHERE f.shoot_id = :shoot AND EXISTS (SELECT FROM filed_file p
                    WHERE p.frame_id = f.id) ORDER BY f.captured_at NULLS LAST, f.stem',
                ['shoot' => $id],
            ),
        );
    }

    /** @return list<array<string, mixed>> */
    public function frames(int $id, int $offset, int $limit): array
    {
        return array_map(static fn (Row $row): array => [
            'id' => $row->int('id'),
            'position' => $row->int('position'),
            'name' => $row->text('stem'),
            'picture' => $row->textOrNull('picture'),
            'facts' => (object) $row->json('facts'),
            'files' => array_map(static fn (mixed $file): array => \is_array($file) && \is_string($file[3])
                ? [
                    'path' => $file[0],
                    'kind' => $file[1],
                    'bytes' => $file[2],
                    'digest' => Digest::fromHex($file[3])->labelled(),
                    'from' => $file[4],
                ]
                : throw new \UnexpectedValueException('A filed file has no digest.'), $row->json('files')),
        ], $this->rows->all(<<<'SQL'
            SELECT f.id, f.stem, f.picture, f.facts,
            row_number() OVER (ORDER BY f.captured_at NULLS LAST, f.stem) - 1 AS position,
                   (SELECT jsonb_agg(jsonb_build_array(p.path, p.kind, coalesce(p.bytes_now, p.bytes),
                       coalesce(p.digest_now, p.digest), p.original_path) ORDER BY p.id) FROM filed_file p
                       WHERE p.frame_id = f.id) AS files
            FROM filed_frame f WHERE f.shoot_id = :shoot AND EXISTS (SELECT FROM filed_file p WHERE p.frame_id = f.id)
                ORDER BY position OFFSET :offset LIMIT :limit
            SQL, ['shoot' => $id, 'offset' => $offset, 'limit' => $limit]));
    }

    /** @return list<string> roots of the places that have some of it */
    private static function shelfFirst(Row $row): array
    {
        $roots = array_values(array_filter($row->json('roots'), is_string(...)));

        return array_values(array_unique([...array_intersect([$row->text('root')], $roots), ...$roots]));
    }

    /** @return array<string, mixed> */
    private function shoot(Row $row): array
    {
        return [
            'id' => $row->int('id'),
            'name' => $row->text('name'),
            'folder' => $row->text('folder'),
            'day' => $row->textOrNull('day'),
            'shelf' => $row->text('shelf'),
            'places' => array_map(
                static fn (string $root): string => $root.'/'.$row->text('folder'),
                self::shelfFirst($row),
            ),
            'frames' => $row->int('frames'),
            'frames_twinned' => $row->int('frames_twinned'),
            'one_drive' => !$this->places->areApart($row->int('shelf_id')),
            'bytes' => $row->int('bytes'),
            'outside' => $row->int('outside'),
            'waiting' => $row->int('waiting'),
            'twinned' => $row->bool('twinned'),
            'pictures' => $row->json('pictures'),
        ];
    }
}
