<?php

declare(strict_types=1);

namespace Velvet\Server\Http;

use Velvet\Core\Bytes\Digest;
use Velvet\Core\Capture\ShotTime;
use Velvet\Server\Store\Intake;
use Velvet\Server\Store\Row;
use Velvet\Server\Store\Rows;
use Velvet\Server\Words;
use Velvet\Server\Work\Cards\CardClearance;

/** An intake under way, and what it left behind: the receipt. Both are read from the same rows. */
final readonly class IntakeProgress
{
    /** Whether a skipped frame equals another one of the same intake. */
    private const IS_TWICE = 'EXISTS (SELECT FROM transfer t WHERE t.entry_id = s.entry_id
        AND t.frame_position = s.frame_position AND t.equals)';

    public function __construct(private Rows $rows, private CardClearance $clearance)
    {
    }

    /** @return array<string, mixed> */
    public function of(Intake $intake): array
    {
        $sum = $this->rows->one(<<<'SQL'
            SELECT count(*) AS files, coalesce(sum(bytes), 0) AS bytes,
                   count(*) FILTER (WHERE state IN ('filed', 'same')) AS files_done,
                   coalesce(sum(bytes) FILTER (WHERE state IN ('filed', 'same')), 0) AS bytes_done,
                   coalesce(sum(bytes) FILTER (WHERE state = 'filed'), 0) AS bytes_filed,
                   count(*) FILTER (WHERE state = 'failed') AS failed,
                   count(DISTINCT frame_key) FILTER (WHERE NOT equals) AS frames,
                   count(DISTINCT frame_key) FILTER (WHERE NOT equals) - count(DISTINCT frame_key)
                       FILTER (WHERE NOT equals AND state <> 'filed') AS frames_done
            FROM transfer WHERE intake_id = :intake
            SQL, ['intake' => $intake->id()]);
        $skipped = $this->rows->one(
            'SELECT count(*) FILTER (WHERE state = \'filed\' AND NOT '.self::IS_TWICE.') AS filed, count(*)
                FILTER (WHERE state = \'filed\' AND '.self::IS_TWICE.") AS twice, count(*)
                    FILTER (WHERE state = 'left_out') AS left_out, count(*)
                    FILTER (WHERE state IN ('unreadable', 'failed')) AS unreadable FROM skipped s
                    WHERE intake_id = :intake",
            ['intake' => $intake->id()],
        );

        return [
            'started_at' => $intake->startedAt?->format('c'),
            'finished_at' => $intake->finishedAt?->format('c'),
            'seconds' => $intake->seconds,
            'files' => $sum->int('files'),
            'files_done' => $sum->int('files_done'),
            'bytes' => $sum->int('bytes'),
            'bytes_done' => $sum->int('bytes_done'),
            'bytes_filed' => $sum->int('bytes_filed'),
            'frames' => $sum->int('frames'),
            'frames_done' => $sum->int('frames_done'),
            'failed' => $sum->int('failed'),
            'already_filed' => $skipped->int('filed'),
            'twice' => $skipped->int('twice'),
            'left_out' => $skipped->int('left_out'),
            'unreadable' => $skipped->int('unreadable'),
            'halted' => $intake->halted,
            'now' => $this->now($intake),
            'to_write' => $this->rows->one(
                "SELECT count(*) AS n FROM filed_file f JOIN transfer t ON t.filed_file_id IN (f.id, f.made_from)
                    WHERE t.intake_id = :intake AND t.state = 'filed' AND f.metadata_state = 'waiting'
                    AND f.outside IS NULL",
                ['intake' => $intake->id()],
            )->int('n'),
            'dng' => $this->dng($intake),
            'failures' => array_map(
                static fn (Row $row): array => ['path' => $row->text('source'), 'why' => $row->text('failure')],
                $this->rows->all(
                    "SELECT source, failure FROM transfer WHERE intake_id = :intake AND state = 'failed' ORDER BY id",
                    ['intake' => $intake->id()],
                ),
            ),
            'remarks' => array_map(
                static fn (Row $row): string => $row->text('note'),
                $this->rows->all(
                    "SELECT DISTINCT n.note FROM transfer t JOIN filed_file f ON f.id = t.filed_file_id
                        LEFT JOIN filed_file d ON d.made_from = f.id CROSS
                        JOIN LATERAL (VALUES (f.metadata_note), (f.dng_note), (d.metadata_note)) AS n(note)
                        WHERE t.intake_id = :intake AND t.state = 'filed' AND n.note IS NOT NULL ORDER BY 1 LIMIT 20",
                    ['intake' => $intake->id()],
                ),
            ),
            'clearances' => $intake->state->hasReceipt() ? $this->clearances($intake) : [],
        ];
    }

    /** @return list<array{name: string, step: string}> the files that workers are at */
    private function now(Intake $intake): array
    {
        return array_map(
            static fn (Row $row): array => [
                'name' => basename($row->text('target')),
                'step' => $row->bool('equals') ? 'comparing' : $row->text('state'),
            ],
            $this->rows->all(
                "SELECT target, state, equals FROM transfer WHERE intake_id = :intake
                    AND state IN ('copying', 'verifying') ORDER BY id",
                ['intake' => $intake->id()],
            ),
        );
    }

    /**
     * @return array{wanted: int, made: int, refused: int, bytes_before: int, bytes_after: int}|null raw files that
     *     become DNG; null where none is to
     */
    public function dng(Intake $intake): ?array
    {
        $sum = $this->rows->one(<<<'SQL'
            SELECT count(*) AS wanted, count(*) FILTER (WHERE f.dng_state IN ('made', 'leaving')) AS made,
            count(*) FILTER (WHERE f.dng_state = 'refused') AS refused,
                   coalesce(sum(f.bytes) FILTER (WHERE f.dng_state IN ('made', 'leaving')), 0) AS before,
                       coalesce(sum(coalesce(d.bytes, f.bytes_now))
                       FILTER (WHERE f.dng_state IN ('made', 'leaving')), 0) AS after
            FROM transfer t LEFT JOIN filed_file f ON f.id = t.filed_file_id
                LEFT JOIN filed_file d ON d.made_from = f.id WHERE t.intake_id = :intake AND t.dng IS NOT NULL
                AND t.state <> 'failed'
            SQL, ['intake' => $intake->id()]);

        return 0 === $sum->int('wanted')
            ? null
            : [
                'wanted' => $sum->int('wanted'),
                'made' => $sum->int('made'),
                'refused' => $sum->int('refused'),
                'bytes_before' => $sum->int('before'),
                'bytes_after' => $sum->int('after'),
            ];
    }

    public function bytesToCopy(Intake $intake): int
    {
        return $this->rows->one(
            "SELECT coalesce(sum(bytes), 0) AS bytes FROM transfer WHERE intake_id = :intake AND NOT equals
                AND state NOT IN ('filed', 'same', 'failed')",
            ['intake' => $intake->id()],
        )->int('bytes');
    }

    /** @return list<array<string, mixed>> */
    public function entries(Intake $intake): array
    {
        $sums = [];
        foreach ($this->rows->all(<<<'SQL'
            SELECT t.entry_id, count(DISTINCT t.frame_key) AS frames, sum(t.bytes) AS bytes, count(*) AS files,
            min(t.captured_at) AS first, max(t.captured_at) AS last,
                   (array_agg(coalesce(f.path, t.target) ORDER BY t.id))[1] AS sample,
                   count(*) FILTER (WHERE t.state = 'filed') AS files_done,
                   coalesce(sum(t.bytes) FILTER (WHERE t.state = 'filed'), 0) AS bytes_done,
                   count(*) FILTER (WHERE t.state = 'failed') AS failed,
                   jsonb_agg(DISTINCT coalesce(f.kind, t.kind)) AS kinds,
                   count(DISTINCT t.frame_key) - count(DISTINCT t.frame_key)
                       FILTER (WHERE t.state <> 'filed') AS frames_done
            FROM transfer t LEFT JOIN filed_file f ON f.id = t.filed_file_id WHERE t.intake_id = :intake
                AND NOT t.equals GROUP BY t.entry_id
            SQL, ['intake' => $intake->id()]) as $row) {
            $sums[$row->int('entry_id')] = $row;
        }
        $skipped = [];
        foreach ($this->rows->all("SELECT entry_id, CASE WHEN state = 'failed' THEN 'unreadable' WHEN state = 'filed'
            AND ".self::IS_TWICE." THEN 'twice' ELSE state END AS state, count(*) AS frames, min(captured_at) AS first,
                max(captured_at) AS last, jsonb_agg(DISTINCT regexp_replace(same_as, '/[^/]*$', ''))
                FILTER (WHERE same_as <> '') AS filed_in FROM skipped s
                WHERE intake_id = :intake GROUP BY 1, 2", ['intake' => $intake->id()]) as $row) {
            $skipped[$row->int('entry_id')][$row->text('state')] = $row;
        }
        $views = [];
        foreach ($intake->entries as $entry) {
            $sum = $sums[$entry->id()] ?? null;
            $out = $skipped[$entry->id()] ?? [];
            $counts = [
                'new' => $sum?->int('frames') ?? 0,
                'filed' => 0,
                'twice' => 0,
                'left_out' => 0,
                'unreadable' => 0,
            ];
            $times = [self::time($sum?->textOrNull('first')), self::time($sum?->textOrNull('last'))];
            foreach ($out as $state => $row) {
                $counts[$state] = $row->int('frames');
                $times[] = self::time($row->textOrNull('first'));
                $times[] = self::time($row->textOrNull('last'));
            }
            $times = array_filter($times, is_string(...));
            $views[] = [
                'number' => $entry->number,
                'day' => $entry->day,
                'name' => $entry->name,
                'kind' => $entry->kind,
                'client' => $entry->client,
                'into' => null,
                'shoots' => [],
                'folder' => $entry->folder ?? '',
                'sample' => null === $sum ? null : basename($sum->text('sample')),
                'first' => [] === $times ? null : min($times),
                'last' => [] === $times ? null : max($times),
                'frames' => array_sum($counts),
                'bytes' => $sum?->int('bytes') ?? 0,
                'counts' => $counts,
                'kinds' => null === $sum ? [] : Words::kinds($sum->json('kinds')),
                'cameras' => [],
                'notes' => [],
                'filed_in' => isset($out['filed']) ? array_values(
                    array_filter($out['filed']->json('filed_in'), is_string(...)),
                ) : [],
                'shoot' => $entry->shoot?->id(),
                'progress' => [
                    'files' => $sum?->int('files') ?? 0,
                    'files_done' => $sum?->int('files_done') ?? 0,
                    'bytes_done' => $sum?->int('bytes_done') ?? 0,
                    'frames_done' => $sum?->int('frames_done') ?? 0,
                    'failed' => $sum?->int('failed') ?? 0,
                ],
            ];
        }

        return $views;
    }

    /** @return list<array<string, mixed>> */
    public function frames(Intake $intake, int $number, int $offset, int $limit): array
    {
        $views = [];
        foreach ($this->rows->all(<<<'SQL'
            SELECT * FROM (
                SELECT t.frame_position, min(t.picture) AS picture, sum(t.bytes) AS bytes,
                jsonb_agg(t.source ORDER BY t.id) AS sources,
                       jsonb_agg(coalesce(f.path, t.target) ORDER BY t.id) || coalesce(jsonb_agg(d.path ORDER BY t.id)
                           FILTER (WHERE d.id IS NOT NULL), '[]') AS targets,
                       jsonb_agg(DISTINCT coalesce(f.kind, t.kind)) AS kinds, (array_agg(t.facts))[1] AS facts,
                       jsonb_agg(coalesce(f.digest_now, t.digest)
                           ORDER BY t.id) || coalesce(jsonb_agg(coalesce(d.digest_now, d.digest) ORDER BY t.id)
                           FILTER (WHERE d.id IS NOT NULL), '[]') AS digests, string_agg(t.failure, ' '
                           ORDER BY t.id) AS failure,
                       CASE WHEN bool_or(t.state = 'failed') THEN 'failed' WHEN bool_and(t.state = 'filed')
                           THEN 'copied' ELSE 'new' END AS state, '' AS same_as
                FROM transfer t JOIN entry e ON e.id = t.entry_id LEFT JOIN filed_file f ON f.id = t.filed_file_id
                    LEFT JOIN filed_file d ON d.made_from = f.id
                WHERE t.intake_id = :intake AND e.number = :number AND NOT t.equals GROUP BY t.frame_position
                UNION ALL
                SELECT s.frame_position, s.picture, s.bytes, jsonb_build_array(s.path), '[]', '[]', s.facts, '[]',
                    nullif(s.problem, ''), s.state, s.same_as
                FROM skipped s JOIN entry e ON e.id = s.entry_id WHERE s.intake_id = :intake AND e.number = :number
            ) frames ORDER BY frame_position OFFSET :offset LIMIT :limit
            SQL, ['intake' => $intake->id(), 'number' => $number, 'offset' => $offset, 'limit' => $limit]) as $row) {
            $sources = array_values(array_filter($row->json('sources'), is_string(...)));
            $views[] = [
                'id' => $row->int('frame_position'),
                'position' => $row->int('frame_position'),
                'name' => pathinfo($sources[0] ?? '', \PATHINFO_FILENAME),
                'kinds' => implode(' + ', Words::kinds($row->json('kinds'))),
                'picture' => $row->textOrNull('picture'),
                'bytes' => $row->int('bytes'),
                'state' => $row->text('state'),
                'from' => $sources,
                'to' => $row->json('targets'),
                'digests' => array_map(
                    static fn (mixed $hex): ?string => \is_string($hex) ? Digest::fromHex($hex)->labelled() : null,
                    $row->json('digests'),
                ),
                'same_as' => '' === $row->text('same_as') ? [] : [$row->text('same_as')],
                'facts' => (object) $row->json('facts'),
                'problems' => null === $row->textOrNull('failure') ? [] : [$row->text('failure')],
            ];
        }

        return $views;
    }

    /**
     * Where the files of an intake were verified, nowhere else.
     *
     * @return array<int, array<int, list<array{root: string, path: string, digest: string}>>> by number of the entry
     *     and position of the frame, one for each file in each place
     */
    public function destinations(Intake $intake): array
    {
        $destinations = [];
        foreach ($this->rows->all(<<<'SQL'
            SELECT e.number, t.frame_position, p.root, x.path, c.digest
            FROM transfer t JOIN entry e ON e.id = t.entry_id JOIN filed_file f ON f.id = t.filed_file_id
                JOIN filed_file x ON x.id = f.id OR x.made_from = f.id
                 JOIN filed_copy c ON c.file_id = x.id AND c.state = 'whole' JOIN place p ON p.id = c.place_id
                     JOIN shelf s ON s.id = p.shelf_id
            WHERE t.intake_id = :intake AND t.state = 'filed'
                ORDER BY e.number, t.frame_position, p.root <> s.root, p.id, x.made_from IS NOT NULL, t.id
            SQL, ['intake' => $intake->id()]) as $row) {
            $destinations[$row->int('number')][$row->int('frame_position')][] = [
                'root' => $row->text('root'),
                'path' => $row->text('path'),
                'digest' => Digest::fromHex($row->text('digest'))->labelled(),
            ];
        }

        return $destinations;
    }

    /**
     * @return list<array{number: int, frames: list<int>, cameras: list<string>, ticks: list<int>, brightness: list<float|null>}>
     */
    public function tape(Intake $intake): array
    {
        $tape = [];
        foreach ($intake->entries as $entry) {
            $ticks = [];
            foreach ($this->rows->all(<<<'SQL'
                SELECT captured_at FROM (
                    SELECT DISTINCT ON (frame_key) captured_at FROM transfer WHERE intake_id = :intake
                        AND entry_id = :entry AND NOT equals
                    UNION ALL SELECT captured_at FROM skipped WHERE intake_id = :intake AND entry_id = :entry
                ) frames WHERE captured_at IS NOT NULL ORDER BY captured_at
                SQL, ['intake' => $intake->id(), 'entry' => $entry->id()]) as $row) {
                $ticks[] = intdiv(ShotTime::fromText($row->text('captured_at'))?->ticks() ?? 0, 1000);
            }
            $tape[] = [
                'number' => $entry->number,
                'frames' => [],
                'cameras' => [],
                'ticks' => $ticks,
                'brightness' => [],
            ];
        }

        return $tape;
    }

    /**
     * @return list<array{id: int, card: string, cleared: bool, copied: bool, missing: list<string>, left_out: int,
     * files: int, in_two_places: int, housekeeping: int, unknown: int, on_one_drive: int, touched: int}>
     */
    public function clearances(Intake $intake): array
    {
        $all = [];
        foreach ($intake->cards as $card) {
            $clearance = $this->clearance->of($card);
            $all[] = ['id' => $card->id(), 'card' => $card->label] + CardView::clearance($clearance);
        }

        return $all;
    }

    private static function time(?string $databaseTime): ?string
    {
        return null === $databaseTime ? null : ShotTime::fromText($databaseTime)?->text();
    }
}
