<?php

declare(strict_types=1);

namespace Velvet\Server\Work\Metadata;

use Doctrine\DBAL\Connection;
use Velvet\Core\Keyword\KeywordPath;
use Velvet\Core\Metadata\Field;
use Velvet\Core\Metadata\Metadata;
use Velvet\Server\Store\FiledFiles;
use Velvet\Server\Store\JsonRows;
use Velvet\Server\Store\Row;
use Velvet\Server\Store\Rows;

/**
 * What a selection of filed frames says, and changes to it; every change can be undone, and the files follow in the
 * background.
 */
final readonly class ShootMetadata
{
    private const MOST_STEPS = 50;

    public function __construct(
        private Connection $database,
        private Rows $rows,
        private JsonRows $jsonRows,
        private Keywords $keywords,
        private FrameSays $says,
        private Following $following,
        private FiledFiles $files,
    ) {
    }

    /**
     * @param list<int> $frames
     *
     * @return array{frames: int, texts: list<array{field: string, text: string|null, frames: int}>, keywords: list<array{id: int,
     *     path: list<string>, frames: int}>, rating: array{value: int|null, mixed: bool}, waiting: int, refused: list<string>}
     *     a text is null where frames say different things
     */
    public function of(int $shoot, array $frames): array
    {
        $this->takeOwn($shoot, $frames);
        $values = $counts = [];
        $ratings = [];
        foreach ($this->frames($shoot, $frames) as $row) {
            $texts = array_filter(
                Metadata::fromArray(['texts' => $row->json('says')])->texts + Metadata::fromArray($row->json('own'))->texts,
                static fn (string $text): bool => '' !== $text,
            );
            foreach ($texts as $field => $text) {
                $values[$field][$text] = true;
                $counts[$field] = ($counts[$field] ?? 0) + 1;
            }
            $ratings[$row->intOrNull('rating') ?? Metadata::fromArray($row->json('own'))->rating ?? 0] = true;
        }
        $all = \count($frames);
        $texts = [];
        foreach (Field::cases() as $field) {
            if (isset($counts[$field->value]) && $field->isTyped()) {
                $said = array_keys($values[$field->value]);
                $texts[] = [
                    'field' => $field->value,
                    'text' => 1 === \count($said) && $counts[$field->value] === $all ? $said[0] : null,
                    'frames' => $counts[$field->value],
                ];
            }
        }
        $given = $this->rows->all(
            'SELECT k.keyword_id, count(*) AS n, min(k.id) AS first FROM frame_keyword k
                JOIN filed_frame f ON f.id = k.frame_id WHERE f.shoot_id = :shoot
                AND k.frame_id IN (SELECT value::bigint FROM jsonb_array_elements_text(CAST(:frames AS jsonb)))
                GROUP BY k.keyword_id ORDER BY n DESC, first',
            ['shoot' => $shoot, 'frames' => self::list($frames)],
        );
        $tree = $this->keywords->about(array_map(static fn (Row $row): int => $row->int('keyword_id'), $given));
        $keywords = array_map(
            static fn (Row $row): array => [
                'id' => $row->int('keyword_id'),
                'path' => $tree->path($row->int('keyword_id'))->names,
                'frames' => $row->int('n'),
            ],
            $given,
        );
        $state = $this->rows->all(
            "SELECT f.metadata_state, f.metadata_note FROM filed_file f JOIN filed_frame r ON r.id = f.frame_id
                WHERE r.shoot_id = :shoot AND r.id IN (SELECT value::bigint
                FROM jsonb_array_elements_text(CAST(:frames AS jsonb))) AND f.metadata_state IN ('waiting', 'refused')
                ORDER BY f.id",
            ['shoot' => $shoot, 'frames' => self::list($frames)],
        );

        return [
            'frames' => $all, 'texts' => $texts, 'keywords' => $keywords,
            'rating' => [
                'value' => 1 === \count($ratings) ? array_key_first($ratings) : null,
                'mixed' => \count($ratings) > 1,
            ],
            'waiting' => \count(
                array_filter($state, static fn (Row $row): bool => 'waiting' === $row->text('metadata_state')),
            ),
            'refused' => array_values(
                array_filter(
                    array_map(
                        static fn (Row $row): ?string => 'refused' === $row->text('metadata_state') ? $row->textOrNull('metadata_note') : null,
                        $state,
                    ),
                    is_string(...),
                ),
            ),
        ];
    }

    /**
     * @param list<int>             $frames
     * @param array<string, string> $texts  by their fields; an empty one takes the field out
     * @param list<KeywordPath>     $add
     * @param list<int>             $remove ids of keywords
     */
    public function change(int $shoot, array $frames, array $texts, array $add, array $remove, ?int $rating): void
    {
        $this->takeOwn($shoot, $frames);
        $rows = $this->frames($shoot, $frames);
        if ([] === $rows) {
            return;
        }
        $ids = $this->keywords->ids($add);
        $this->database->transactional(function () use ($shoot, $rows, $texts, $ids, $remove, $rating): void {
            $changed = array_map(static fn (Row $row): int => $row->int('id'), $rows);
            $meant = self::list($changed);
            $what = implode(', ', array_filter([
                [] === $texts
                    ? ''
                    : implode(
                        ', ',
                        array_map(
                            static fn (string $field): string => str_replace('_', ' ', $field),
                            array_keys($texts),
                        ),
                    ),
                [] === $ids && [] === $remove ? '' : 'keywords',
                null === $rating ? '' : 'rating',
            ], static fn (string $part): bool => '' !== $part));
            $this->remember(
                $shoot,
                $meant,
                \sprintf('%s of %d %s', $what, \count($rows), 1 === \count($rows) ? 'frame' : 'frames'),
            );
            $this->database->executeStatement(
                'UPDATE filed_frame SET says = says || CAST(:texts AS jsonb), rating = coalesce(:rating, rating)
                    WHERE id IN (SELECT value::bigint FROM jsonb_array_elements_text(CAST(:frames AS jsonb)))',
                [
                    'texts' => json_encode(
                        (object) array_map(static fn (string $text): string => trim(Metadata::clean($text)), $texts),
                        \JSON_THROW_ON_ERROR | \JSON_UNESCAPED_UNICODE,
                    ),
                    'rating' => $rating,
                    'frames' => $meant,
                ],
            );
            $this->database->executeStatement(
                'DELETE FROM frame_keyword WHERE frame_id IN (SELECT value::bigint
                    FROM jsonb_array_elements_text(CAST(:frames AS jsonb))) AND keyword_id IN (SELECT value::int
                    FROM jsonb_array_elements_text(CAST(:ids AS jsonb)))',
                ['frames' => $meant, 'ids' => self::list($remove)],
            );
            $this->database->executeStatement(
                'INSERT INTO frame_keyword (frame_id, keyword_id) SELECT f.value::bigint, k.value::int
                    FROM jsonb_array_elements_text(CAST(:frames AS jsonb)) AS f,
                        jsonb_array_elements_text(CAST(:ids AS jsonb)) WITH ORDINALITY AS k
                    ORDER BY 1, k.ordinality ON CONFLICT DO NOTHING',
                ['frames' => $meant, 'ids' => self::list($ids)],
            );
            $this->keywords->used($ids);
            $this->following->ask($changed);
        });
        $this->following->begin();
    }

    /** What would be undone; null where there is nothing. */
    public function last(int $shoot): ?string
    {
        return $this->rows->first(
            'SELECT label FROM metadata_step WHERE shoot_id = :shoot ORDER BY id DESC LIMIT 1',
            ['shoot' => $shoot],
        )?->text('label');
    }

    public function undo(int $shoot): void
    {
        $step = $this->rows->first(
            'SELECT id, before FROM metadata_step WHERE shoot_id = :shoot ORDER BY id DESC LIMIT 1',
            ['shoot' => $shoot],
        );
        if (null === $step) {
            return;
        }
        $before = array_values(array_filter($step->json('before'), is_array(...)));
        $this->database->transactional(function () use ($step, $before): void {
            $changed = array_map(static fn (array $frame): int => \is_int($frame['id']) ? $frame['id'] : 0, $before);
            $meant = self::list($changed);
            // what was said first by the change is taken out of the files again, or is again what they said themselves
            $this->jsonRows->execute(
                "UPDATE filed_frame f
                    SET says = (SELECT coalesce(jsonb_object_agg(k, coalesce(f.own->'texts'->k, '\"\"')), '{}')
                    FROM jsonb_object_keys(f.says) AS k) || r.says, rating = coalesce(r.rating,
                        (f.own->>'rating')::smallint, CASE WHEN f.rating IS NULL THEN NULL ELSE 0 END)
                    FROM jsonb_to_recordset(CAST(:rows AS jsonb)) AS r(id bigint, says jsonb, rating smallint)
                    WHERE f.id = r.id",
                array_map(
                    static fn (array $frame): array => [
                        'id' => $frame['id'],
                        'says' => (object) (\is_array($frame['says']) ? $frame['says'] : []),
                        'rating' => $frame['rating'],
                    ],
                    $before,
                ),
            );
            $this->database->executeStatement(
                'DELETE FROM frame_keyword WHERE frame_id IN (SELECT value::bigint
                    FROM jsonb_array_elements_text(CAST(:frames AS jsonb)))',
                ['frames' => $meant],
            );
            $has = [];
            foreach ($before as $frame) {
                foreach (array_filter(\is_array($frame['keywords']) ? $frame['keywords'] : [], is_int(...)) as $keyword) {
                    $has[] = ['frame' => \is_int($frame['id']) ? $frame['id'] : 0, 'keyword' => $keyword];
                }
            }
            $this->says->give($has);
            $this->following->ask($changed);
            $this->database->executeStatement('DELETE FROM metadata_step WHERE id = :id', ['id' => $step->int('id')]);
        });
        $this->following->begin();
    }

    private function remember(int $shoot, string $frames, string $label): void
    {
        $this->database->executeStatement(
            'DELETE FROM metadata_step WHERE shoot_id = :shoot AND id <= (SELECT id FROM metadata_step
                WHERE shoot_id = :shoot ORDER BY id DESC OFFSET :most LIMIT 1)',
            ['shoot' => $shoot, 'most' => self::MOST_STEPS - 1],
        );
        $this->database->executeStatement(<<<'SQL'
            INSERT INTO metadata_step (shoot_id, label, before)
            SELECT :shoot, :label, jsonb_agg(jsonb_build_object('id', f.id, 'says', f.says, 'rating', f.rating,
                'keywords', (SELECT coalesce(jsonb_agg(k.keyword_id ORDER BY k.id), '[]') FROM frame_keyword k
                WHERE k.frame_id = f.id)))
            FROM filed_frame f WHERE f.id IN (SELECT value::bigint
                FROM jsonb_array_elements_text(CAST(:frames AS jsonb)))
            SQL, ['shoot' => $shoot, 'label' => $label, 'frames' => $frames]);
    }

    /**
     * @param list<int> $frames
     *
     * @return list<Row>
     */
    private function frames(int $shoot, array $frames): array
    {
        return $this->rows->all(
            "SELECT f.id, f.says, f.rating, coalesce(f.own, '{}') AS own FROM filed_frame f WHERE f.shoot_id = :shoot
                AND f.id IN (SELECT value::bigint FROM jsonb_array_elements_text(CAST(:frames AS jsonb)))
                ORDER BY f.id",
            ['shoot' => $shoot, 'frames' => self::list($frames)],
        );
    }

    /** @param list<int> $frames */
    private function takeOwn(int $shoot, array $frames): void
    {
        foreach ($this->files->framesNotAsked($shoot, $frames) as $frame) {
            $this->says->takeOwn($frame);
        }
    }

    /** @param list<int> $ids */
    private static function list(array $ids): string
    {
        return json_encode($ids, \JSON_THROW_ON_ERROR);
    }
}
