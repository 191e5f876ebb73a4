<?php

declare(strict_types=1);

namespace Velvet\Server\Store;

use Velvet\Core\Bytes\Digest;

/** What an intake is about to file, has filed and has not, in sums and frame by frame. */
final readonly class IntakeSums
{
    /** Whether a skipped frame `s` equals another one of the same intake. */
    private const IS_TWICE = <<<'SQL'
        EXISTS (SELECT FROM transfer t WHERE t.entry_id = s.entry_id AND t.frame_position = s.frame_position
            AND t.equals)
        SQL;

    public function __construct(private Rows $rows)
    {
    }

    /**
     * @return list<Row> all intakes that were begun, the latest first: `id`, `state`, `started_at`, `seconds`, the
     *     `cards`' labels, the `shoots` that it filed into, `frames` and `bytes` that it filed, files that `failed`,
     *     frames that were `skipped`
     */
    public function all(): array
    {
        return $this->rows->all(<<<'SQL'
            SELECT i.id, i.state, i.started_at, i.seconds::text,
                   (SELECT coalesce(jsonb_agg(c.label ORDER BY c.label), '[]') FROM intake_card ic
                       JOIN card c ON c.id = ic.card_id WHERE ic.intake_id = i.id) AS cards,
                   (SELECT coalesce(jsonb_agg(jsonb_build_object('id', s.id, 'name', s.name, 'day', s.day)
                       ORDER BY e.number), '[]') FROM entry e JOIN shoot s ON s.id = e.shoot_id
                       WHERE e.intake_id = i.id) AS shoots,
                   (SELECT count(DISTINCT frame_key) FROM transfer t WHERE t.intake_id = i.id
                       AND t.state = 'filed' AND NOT t.loose) AS frames,
                   (SELECT coalesce(sum(bytes), 0) FROM transfer t WHERE t.intake_id = i.id
                       AND t.state = 'filed') AS bytes,
                   (SELECT count(*) FROM transfer t WHERE t.intake_id = i.id AND t.state = 'failed') AS failed,
                   (SELECT count(*) FROM skipped k WHERE k.intake_id = i.id) AS skipped
            FROM intake i WHERE i.state <> 'sheet' ORDER BY i.started_at DESC, i.id DESC
            SQL);
    }

    /**
     * @return Row `files`, `bytes` and `frames`; those `files_done`, `bytes_done` and `frames_done`; `bytes_filed`
     *     without those that were equal to others; files that `failed`
     */
    public function copied(Intake $intake): Row
    {
        return $this->rows->one(<<<'SQL'
            SELECT count(*) AS files, coalesce(sum(bytes), 0) AS bytes,
                   count(*) FILTER (WHERE state IN ('filed', 'same')) AS files_done,
                   coalesce(sum(bytes) FILTER (WHERE state IN ('filed', 'same')), 0) AS bytes_done,
                   coalesce(sum(bytes) FILTER (WHERE state = 'filed'), 0) AS bytes_filed,
                   count(*) FILTER (WHERE state = 'failed') AS failed,
                   count(DISTINCT frame_key) FILTER (WHERE NOT equals AND NOT t.loose) AS frames,
                   count(DISTINCT frame_key) FILTER (WHERE NOT equals AND NOT t.loose) - count(DISTINCT frame_key)
                       FILTER (WHERE NOT equals AND state <> 'filed' AND NOT t.loose) AS frames_done
            FROM transfer t WHERE intake_id = :intake
            SQL, ['intake' => $intake->id()]);
    }

    /** @return Row frames that were not copied: `filed` before, `twice` in it, `left_out`, `unreadable` */
    public function skipped(Intake $intake): Row
    {
        return $this->rows->one(\sprintf(<<<'SQL'
            SELECT count(*) FILTER (WHERE state = 'filed' AND NOT %1$s) AS filed,
                count(*) FILTER (WHERE state = 'filed' AND %1$s) AS twice,
                count(*) FILTER (WHERE state = 'left_out') AS left_out,
                count(*) FILTER (WHERE state IN ('unreadable', 'failed')) AS unreadable
            FROM skipped s WHERE intake_id = :intake
            SQL, self::IS_TWICE), ['intake' => $intake->id()]);
    }

    /** Filed files that wait for what their frames say. */
    public function toWrite(Intake $intake): int
    {
        return $this->rows->one(<<<'SQL'
            SELECT count(*) AS n FROM filed_file f JOIN transfer t ON t.filed_file_id IN (f.id, f.made_from)
            WHERE t.intake_id = :intake AND t.state = 'filed' AND f.metadata_state = 'waiting' AND f.outside IS NULL
            SQL, ['intake' => $intake->id()])->int('n');
    }

    /** Filed files into which, or beside which, what their frames say could not be written. */
    public function withoutMetadata(Intake $intake): int
    {
        return $this->rows->one(<<<'SQL'
            SELECT count(*) AS n FROM filed_file f JOIN transfer t ON t.filed_file_id IN (f.id, f.made_from)
            WHERE t.intake_id = :intake AND t.state = 'filed' AND f.metadata_state = 'refused'
            SQL, ['intake' => $intake->id()])->int('n');
    }

    /** @return list<array{path: string, why: string}> files that were not filed, on their card, and a sentence */
    public function failures(Intake $intake): array
    {
        return array_map(
            static fn (Row $row): array => ['path' => $row->text('source'), 'why' => $row->text('failure')],
            $this->rows->all(
                "SELECT source, failure FROM transfer WHERE intake_id = :intake AND state = 'failed' ORDER BY id",
                ['intake' => $intake->id()],
            ),
        );
    }

    /** @return list<string> what is to be said of filed files, each once */
    public function remarks(Intake $intake): array
    {
        return array_map(static fn (Row $row): string => $row->text('note'), $this->rows->all(<<<'SQL'
            SELECT DISTINCT n.note
            FROM filed_file f JOIN transfer t ON t.filed_file_id IN (f.id, f.made_from)
                CROSS JOIN LATERAL (VALUES (f.metadata_note), (f.dng_note)) AS n(note)
            WHERE (f.metadata_note IS NOT NULL OR f.dng_note IS NOT NULL)
                AND t.intake_id = :intake AND t.state = 'filed' AND n.note IS NOT NULL ORDER BY 1
            SQL, ['intake' => $intake->id()]));
    }

    /** @return list<Row> the files that workers are at: `target`, `state`, whether it is only compared as `equals` */
    public function underWay(Intake $intake): array
    {
        return $this->rows->all(
            "SELECT target, state, equals FROM transfer WHERE intake_id = :intake
                AND state IN ('copying', 'verifying') ORDER BY id",
            ['intake' => $intake->id()],
        );
    }

    /**
     * @return Row raw files that are `wanted` as DNG, `made`, `refused`; bytes of those made `before` and `after`
     */
    public function dng(Intake $intake): Row
    {
        return $this->rows->one(<<<'SQL'
            SELECT count(*) AS wanted, count(*) FILTER (WHERE f.dng_state IN ('made', 'leaving')) AS made,
            count(*) FILTER (WHERE f.dng_state = 'refused') AS refused,
                   coalesce(sum(f.bytes) FILTER (WHERE f.dng_state IN ('made', 'leaving')), 0) AS before,
                       coalesce(sum(coalesce(d.bytes, f.bytes_now))
                       FILTER (WHERE f.dng_state IN ('made', 'leaving')), 0) AS after
            FROM transfer t LEFT JOIN filed_file f ON f.id = t.filed_file_id
                LEFT JOIN filed_file d ON d.made_from = f.id WHERE t.intake_id = :intake AND t.dng IS NOT NULL
                AND t.state <> 'failed'
            SQL, ['intake' => $intake->id()]);
    }

    public function bytesToCopy(Intake $intake): int
    {
        return $this->rows->one(
            "SELECT coalesce(sum(bytes), 0) AS bytes FROM transfer WHERE intake_id = :intake AND NOT equals
                AND state IN ('planned', 'copying', 'verifying')",
            ['intake' => $intake->id()],
        )->int('bytes');
    }

    /**
     * @return array<int, Row> of what is copied, by the entry's id: `frames`, `files`, `bytes`, those done as
     *     `frames_done`, `files_done` and `bytes_done`, files that `failed`, `kinds`, the `first` and `last` moment, a
     *     `sample` of a path
     */
    public function copiedByEntry(Intake $intake): array
    {
        $sums = [];
        foreach ($this->rows->all(<<<'SQL'
            SELECT t.entry_id, count(DISTINCT t.frame_key) FILTER (WHERE NOT t.loose) AS frames,
                   sum(t.bytes) AS bytes, count(*) AS files,
            min(t.captured_at) AS first, max(t.captured_at) AS last,
                   (array_agg(coalesce(f.path, t.target) ORDER BY t.id))[1] AS sample,
                   count(*) FILTER (WHERE t.state = 'filed') AS files_done,
                   coalesce(sum(t.bytes) FILTER (WHERE t.state = 'filed'), 0) AS bytes_done,
                   count(*) FILTER (WHERE t.state = 'failed') AS failed,
                   jsonb_agg(DISTINCT coalesce(f.kind, t.kind)) AS kinds,
                   count(DISTINCT t.frame_key) FILTER (WHERE NOT t.loose) - count(DISTINCT t.frame_key)
                       FILTER (WHERE t.state <> 'filed' AND NOT t.loose) AS frames_done
            FROM transfer t LEFT JOIN filed_file f ON f.id = t.filed_file_id WHERE t.intake_id = :intake
                AND NOT t.equals GROUP BY t.entry_id
            SQL, ['intake' => $intake->id()]) as $row) {
            $sums[$row->int('entry_id')] = $row;
        }

        return $sums;
    }

    /**
     * @return array<int, array<string, Row>> of what is not copied, by the entry's id and by why not: `frames`, the
     *     `first` and `last` moment, the folders that they are `filed_in`
     */
    public function skippedByEntry(Intake $intake): array
    {
        $skipped = [];
        foreach ($this->rows->all(\sprintf(<<<'SQL'
            SELECT entry_id, CASE WHEN state = 'failed' THEN 'unreadable'
                    WHEN state = 'filed' AND %s THEN 'twice' ELSE state END AS state,
                count(*) AS frames, min(captured_at) AS first, max(captured_at) AS last,
                jsonb_agg(DISTINCT regexp_replace(same_as, '/[^/]*$', '')) FILTER (WHERE same_as <> '') AS filed_in
            FROM skipped s WHERE intake_id = :intake GROUP BY 1, 2
            SQL, self::IS_TWICE), ['intake' => $intake->id()]) as $row) {
            $skipped[$row->int('entry_id')][$row->text('state')] = $row;
        }

        return $skipped;
    }

    /**
     * @return list<Row> of an entry: `frame_position`, `picture`, `bytes`, the files' `sources` on the card, and of
     *     what is filed `targets` and `digests`, `kinds`, `facts`, its `problems` in sentences, `state`, what it is
     *     `same_as`
     */
    public function frames(Intake $intake, int $number, int $offset, int $limit): array
    {
        return $this->rows->all(<<<'SQL'
            SELECT * FROM (
                SELECT t.frame_position, min(t.picture) AS picture, sum(t.bytes) AS bytes,
                    jsonb_agg(t.source ORDER BY t.id) AS sources,
                    jsonb_agg(coalesce(f.path, t.target) ORDER BY t.id)
                        || coalesce(jsonb_agg(d.path ORDER BY t.id) FILTER (WHERE d.id IS NOT NULL), '[]') AS targets,
                    jsonb_agg(DISTINCT coalesce(f.kind, t.kind)) AS kinds, (array_agg(t.facts))[1] AS facts,
                    jsonb_agg(coalesce(f.digest_now, t.digest) ORDER BY t.id)
                        || coalesce(jsonb_agg(coalesce(d.digest_now, d.digest) ORDER BY t.id)
                            FILTER (WHERE d.id IS NOT NULL), '[]') AS digests,
                    coalesce(jsonb_agg(t.failure) FILTER (WHERE t.failure IS NOT NULL), '[]')
                        || coalesce(jsonb_agg(f.dng_note) FILTER (WHERE f.dng_note IS NOT NULL), '[]')
                        || coalesce(jsonb_agg(f.metadata_note) FILTER (WHERE f.metadata_note IS NOT NULL), '[]')
                        || coalesce(jsonb_agg(d.metadata_note) FILTER (WHERE d.metadata_note IS NOT NULL), '[]')
                        AS problems,
                    CASE WHEN bool_or(t.state = 'failed') THEN 'failed'
                        WHEN bool_and(t.state = 'filed') THEN 'copied' ELSE 'new' END AS state,
                    '' AS same_as
                FROM transfer t JOIN entry e ON e.id = t.entry_id LEFT JOIN filed_file f ON f.id = t.filed_file_id
                    LEFT JOIN filed_file d ON d.made_from = f.id
                WHERE t.intake_id = :intake AND e.number = :number AND NOT t.equals
                    AND t.frame_position >= CAST(:offset AS bigint)
                    AND t.frame_position < CAST(:offset AS bigint) + :limit
                GROUP BY t.frame_position
                UNION ALL
                SELECT s.frame_position, s.picture, s.bytes, jsonb_build_array(s.path), '[]', '[]', s.facts, '[]',
                    CASE WHEN s.problem = '' THEN '[]' ELSE jsonb_build_array(s.problem) END, s.state, s.same_as
                FROM skipped s JOIN entry e ON e.id = s.entry_id WHERE s.intake_id = :intake AND e.number = :number
                    AND s.frame_position >= CAST(:offset AS bigint)
                    AND s.frame_position < CAST(:offset AS bigint) + :limit
            ) frames ORDER BY frame_position
            SQL, ['intake' => $intake->id(), 'number' => $number, 'offset' => $offset, 'limit' => $limit]);
    }

    /**
     * Where the files of an entry's frames were verified, nowhere else.
     *
     * @return array<int, list<array{root: string, path: string, digest: string}>> by the position of the frame, one for
     *     each file in each place
     */
    public function destinations(Intake $intake, int $number, int $offset, int $limit): array
    {
        $destinations = [];
        foreach ($this->rows->all(<<<'SQL'
            SELECT t.frame_position, p.root, x.path, c.digest
            FROM transfer t JOIN entry e ON e.id = t.entry_id JOIN filed_file f ON f.id = t.filed_file_id
                JOIN filed_file x ON x.id = f.id OR x.made_from = f.id
                 JOIN filed_copy c ON c.file_id = x.id AND c.state = 'whole' JOIN place p ON p.id = c.place_id
                     JOIN shelf s ON s.id = p.shelf_id
            WHERE t.intake_id = :intake AND t.state = 'filed' AND e.number = :number
                AND t.frame_position >= CAST(:offset AS bigint) AND t.frame_position < CAST(:offset AS bigint) + :limit
            ORDER BY t.frame_position, p.root <> s.root, p.id, x.made_from IS NOT NULL, t.id
            SQL, [
            'intake' => $intake->id(), 'number' => $number, 'offset' => $offset, 'limit' => $limit,
        ]) as $row) {
            $destinations[$row->int('frame_position')][] = [
                'root' => $row->text('root'),
                'path' => $row->text('path'),
                'digest' => Digest::fromHex($row->text('digest'))->labelled(),
            ];
        }

        return $destinations;
    }

    /** @return array<int, list<string>> the moments of all frames, by the entry's id, in order */
    public function moments(Intake $intake): array
    {
        $moments = [];
        foreach ($this->rows->each(<<<'SQL'
            SELECT entry_id, captured_at FROM (
                SELECT DISTINCT ON (entry_id, frame_key) entry_id, captured_at FROM transfer
                    WHERE intake_id = :intake AND NOT equals
                UNION ALL SELECT entry_id, captured_at FROM skipped WHERE intake_id = :intake
            ) frames WHERE captured_at IS NOT NULL ORDER BY captured_at
            SQL, ['intake' => $intake->id()]) as $row) {
            $moments[$row->int('entry_id')][] = $row->text('captured_at');
        }

        return $moments;
    }
}
