<?php

declare(strict_types=1);

namespace Velvet\Server\Store;

use Velvet\Core\Shoot\Day;

/** The shoots that frames are filed in. */
final readonly class Shoots
{
    private const SHOOT = <<<'SQL'
        SELECT s.id, s.name, s.folder, s.day, h.name AS shelf, h.id AS shelf_id, h.root,
               (SELECT coalesce(jsonb_agg(DISTINCT p.root), '[]') FROM filed_frame w
                   JOIN filed_file v ON v.frame_id = w.id JOIN filed_copy c ON c.file_id = v.id
                   JOIN place p ON p.id = c.place_id WHERE w.shoot_id = s.id
                   AND p.root IN (h.root, h.twin_root)) AS roots,
               count(DISTINCT f.frame_id) FILTER (WHERE NOT ff.loose) AS frames,
               coalesce(sum(coalesce(f.bytes_now, f.bytes)), 0) AS bytes,
               coalesce(bool_and(f.places > 1), false) AS twinned,
               count(DISTINCT f.frame_id) FILTER (WHERE f.places > 1 AND NOT ff.loose) AS frames_twinned,
               count(DISTINCT f.frame_id) FILTER (WHERE ff.verdict = 'open' AND NOT ff.loose) AS open,
               count(DISTINCT f.frame_id) FILTER (WHERE ff.verdict = 'struck' AND NOT ff.loose) AS struck,
               (SELECT count(*) FROM filed_frame a WHERE a.shoot_id = s.id
                   AND a.whereabouts IN ('set_aside', 'in_trash')) AS aside,
               count(*) FILTER (WHERE f.outside IS NOT NULL) AS outside,
               count(*) FILTER (WHERE f.metadata_state = 'waiting' AND f.outside IS NULL) AS waiting,
               (SELECT coalesce(jsonb_agg(picture), '[]') FROM (
                   SELECT picture FROM (SELECT
        SQL.' '.FiledFrames::PICTURE.<<<'SQL'
             AS picture, row_number() OVER (ORDER BY captured_at, stem) - 1 AS n,
                       count(*) OVER () AS total FROM filed_frame f WHERE f.shoot_id = s.id
                       AND f.picture IS NOT NULL
                       AND f.whereabouts = 'in_shoot') AS spread
                   WHERE n % greatest(1, total / 8) = 0 ORDER BY n LIMIT 8) AS cover) AS pictures
        FROM shoot s JOIN shelf h ON h.id = s.shelf_id
             LEFT JOIN filed_frame ff ON ff.shoot_id = s.id AND ff.whereabouts = 'in_shoot'
             LEFT JOIN LATERAL (
                 SELECT x.*, (SELECT count(*) FROM filed_copy c JOIN place p ON p.id = c.place_id
                     WHERE c.file_id = x.id AND c.state = 'whole' AND c.digest = coalesce(x.digest_now, x.digest)
                     AND p.id IN (:live)) AS places
                 FROM filed_file x WHERE x.frame_id = ff.id
             ) AS f ON true
        WHERE EXISTS (SELECT FROM filed_frame k JOIN filed_file l ON l.frame_id = k.id
            WHERE k.shoot_id = s.id AND k.whereabouts IN ('in_shoot', 'set_aside', 'in_trash'))
        SQL;

    private const OPEN = <<<'SQL'
        SELECT s.id, s.name, count(*) FILTER (WHERE f.verdict = 'open') AS open
        FROM shoot s JOIN filed_frame f ON f.shoot_id = s.id AND NOT f.loose AND f.whereabouts = 'in_shoot'
        SQL;

    public function __construct(private Rows $rows, private Places $places)
    {
    }

    /**
     * @return list<Row> latest first: `id`, `name`, `folder`, `day`, the `shelf`'s name, `shelf_id` and `root`,
     *     the `roots` of places that have some of it, `frames`, `bytes`, whether all are `twinned` and how many
     *     frames are, frames that are `open` or `struck`, how many more are
     *     set `aside` or in the trash, files that are changed `outside` or `waiting` to be
     *     written, up to eight `pictures` spread over it
     */
    public function all(): array
    {
        return $this->rows->all(
            self::SHOOT.' GROUP BY s.id, h.id ORDER BY s.day DESC NULLS LAST, s.name',
            ['live' => $this->places->connected()],
        );
    }

    /** As {@see self::all()} has it; null where there is no such shoot, or nothing in it. */
    public function one(int $id): ?Row
    {
        return $this->rows->first(
            self::SHOOT.' AND s.id = :id GROUP BY s.id, h.id',
            ['id' => $id, 'live' => $this->places->connected()],
        );
    }

    /** @return list<Row> that an intake filed frames in: `id`, `name`, how many frames are `open` */
    public function openOf(int $intake): array
    {
        return $this->rows->all(
            self::OPEN.' WHERE s.id IN (SELECT e.shoot_id FROM entry e WHERE e.intake_id = :intake)
                GROUP BY s.id ORDER BY s.day, s.id',
            ['intake' => $intake],
        );
    }

    /** The newest one that has frames, as {@see self::openOf()} has it; null where there is none. */
    public function newestOpen(): ?Row
    {
        return $this->rows->first(self::OPEN.' WHERE s.id = (SELECT max(shoot_id) FROM filed_frame) GROUP BY s.id');
    }

    public function has(int $id): bool
    {
        return null !== $this->rows->first('SELECT id FROM shoot WHERE id = :id', ['id' => $id]);
    }

    /** Number of the latest change of what its frames say. */
    public function turn(int $id): int
    {
        return $this->rows->one('SELECT turn FROM shoot WHERE id = :id', ['id' => $id])->int('turn');
    }

    /** @return list<int> those of this name or folder */
    public function called(string $nameOrFolder): array
    {
        return array_map(
            static fn (Row $row): int => $row->int('id'),
            $this->rows->all('SELECT id FROM shoot WHERE :it IN (name, folder) ORDER BY id', ['it' => $nameOrFolder]),
        );
    }

    /** Of `filed_frame f`: those of `:shoot` that have files, in capture order. */
    public static function inCaptureOrder(Lot $lot): string
    {
        return 'f.shoot_id = :shoot AND NOT f.loose AND '.$lot->where().' AND EXISTS (SELECT FROM filed_file p
            WHERE p.frame_id = f.id) ORDER BY f.captured_at NULLS LAST, f.stem, f.id';
    }

    /** @return list<int> frames that have files, in capture order */
    public function frameIds(int $id, Lot $lot = Lot::InShoot): array
    {
        return array_map(
            static fn (Row $row): int => $row->int('id'),
            $this->rows->all(
                'SELECT f.id FROM filed_frame f WHERE '.self::inCaptureOrder($lot),
                ['shoot' => $id],
            ),
        );
    }

    /**
     * @return list<Row> frames that have files, in capture order: `id`, `stem`, `picture`, `facts`, `verdict`,
     *     `rating`, `tabs`, `position`, and as `files` of each its path, kind, bytes, digest and the path on its card
     */
    public function frames(int $id, int $offset, int $limit, Lot $lot = Lot::InShoot): array
    {
        return $this->rows->all(\sprintf(<<<'SQL'
            SELECT f.id, f.stem, %s AS picture, %s AS facts, f.verdict, f.rating, f.tabs,
                row_number() OVER (ORDER BY f.captured_at NULLS LAST, f.stem, f.id) - 1 AS position,
                (SELECT jsonb_agg(jsonb_build_array(p.path, p.kind, coalesce(p.bytes_now, p.bytes),
                    coalesce(p.digest_now, p.digest), p.original_path) ORDER BY p.id) FROM filed_file p
                    WHERE p.frame_id = f.id) AS files
            FROM filed_frame f WHERE %s OFFSET :offset LIMIT :limit
            SQL, FiledFrames::PICTURE, FiledFrames::FACTS, self::inCaptureOrder($lot)), [
            'shoot' => $id, 'offset' => $offset, 'limit' => $limit,
        ]);
    }

    /**
     * @return list<Row> frames that have files, in capture order: `id`, `picture`, `verdict`, `rating`, `judged_by`,
     *     `tabs`, `ticks` in milliseconds on the wall clock, `camera`, `make`, `model`, `lens`, `seconds`, `f_number`,
     *     `iso`, `bias` and `own_rating` as its file says them, the measured `brightness`, `black`, `clipped`,
     *     `sharpness`, `likeness` and `in_focus`, as JSON the `kinds` of its files and the ids of its `keywords` and of
     *     the `intakes` that filed some of it
     */
    public function judged(int $id): array
    {
        return $this->rows->all(
            'SELECT f.id, '.FiledFrames::PICTURE." AS picture, f.verdict, f.rating, f.judged_by, f.tabs,
                (extract(epoch FROM f.captured_at) * 1000)::bigint AS ticks,
                concat_ws(' ', f.facts->>'make', f.facts->>'model', f.facts->>'serial') AS camera,
                f.facts->>'make' AS make, f.facts->>'model' AS model, f.facts->>'lens' AS lens,
                (f.facts->>'exposure_s')::float AS seconds, (f.facts->>'f_number')::float AS f_number,
                (f.facts->>'iso')::int AS iso, (f.facts->>'exposure_bias')::float AS bias,
                coalesce((f.own->>'rating')::int, (f.facts->>'rating')::int) AS own_rating,
                m.brightness, m.black, m.clipped, m.sharpness, m.likeness, m.in_focus,
                (SELECT jsonb_agg(p.kind ORDER BY p.id) FROM filed_file p WHERE p.frame_id = f.id) AS kinds,
                (SELECT jsonb_agg(DISTINCT p.intake_id) FROM filed_file p WHERE p.frame_id = f.id) AS intakes,
                (SELECT coalesce(jsonb_agg(k.keyword_id), '[]') FROM frame_keyword k WHERE k.frame_id = f.id)
                    AS keywords
            FROM filed_frame f LEFT JOIN measured_picture m ON m.picture = f.picture WHERE "
                .self::inCaptureOrder(Lot::InShoot),
            ['shoot' => $id],
        );
    }

    /** The latest day of which frames of cards of these labels were filed by other intakes. */
    public function lastDayOfCardsLike(Intake $intake): ?Day
    {
        $last = $this->rows->one(<<<'SQL'
            SELECT max(s.day)::text AS last FROM shoot s JOIN entry e ON e.shoot_id = s.id
                JOIN intake_card ic ON ic.intake_id = e.intake_id JOIN card c ON c.id = ic.card_id
            WHERE e.intake_id <> :intake AND c.label IN (SELECT k.label FROM card k
                JOIN intake_card x ON x.card_id = k.id WHERE x.intake_id = :intake)
            SQL, ['intake' => $intake->id()])->textOrNull('last');

        return null === $last ? null : Day::fromText($last);
    }

    /**
     * Shoots on the sheet's shelf that its entries could be filed into: of the same day, or called the same.
     *
     * @return array<int, list<array{id: int, name: string, folder: string}>> by the entry's id, the latest first, five
     *     at most
     */
    public function offeredTo(Intake $intake): array
    {
        $offers = [];
        foreach ($this->rows->all(<<<'SQL'
            SELECT e.id AS entry, s.id, s.name, s.folder
            FROM entry e JOIN intake i ON i.id = e.intake_id CROSS JOIN LATERAL (
                SELECT * FROM shoot o WHERE o.shelf_id = i.shelf_id
                    AND (o.day = e.day OR (trim(e.name) <> '' AND lower(o.name) = lower(trim(e.name))))
                ORDER BY o.day DESC NULLS LAST, o.name LIMIT 5
            ) AS s
            WHERE e.intake_id = :intake ORDER BY e.number, s.day DESC NULLS LAST, s.name
            SQL, ['intake' => $intake->id()]) as $row) {
            $offers[$row->int('entry')][] = [
                'id' => $row->int('id'), 'name' => $row->text('name'), 'folder' => $row->text('folder'),
            ];
        }

        return $offers;
    }
}
