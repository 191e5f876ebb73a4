<?php

declare(strict_types=1);

namespace Velvet\Server\Store;

use Doctrine\DBAL\Connection;
use Doctrine\DBAL\ParameterType;
use Velvet\Core\Capture\Orientation;
use Velvet\Core\Card\FileKind;
use Velvet\Core\Filed\FrameWords;
use Velvet\Core\Filed\Verdict;
use Velvet\Core\Metadata\Metadata;

/** The frames of filed files, and what is said of them. */
final readonly class FiledFrames
{
    /** SQL, of a frame `f`: the key of the picture that stands for it, as it is shown since it was rotated. */
    public const PICTURE = "f.picture || coalesce('-' || ".self::ROTATED.", '')";
    /** SQL, of a frame `f`: its facts, with the orientation in which it is shown since it was rotated. */
    public const FACTS = 'CASE WHEN '.self::ROTATED.' IS NULL THEN f.facts
        ELSE f.facts || jsonb_build_object(\'orientation\', CAST('.self::ROTATED.' AS int)) END';
    private const ROTATED = "substring(f.says->>'orientation' FROM '^[1-8]$')";

    private const WORDS = <<<'SQL'
        SELECT f.id, f.says, f.rating, f.verdict, f.judged_by, f.tabs, coalesce(f.own, '{}') AS own,
            (SELECT coalesce(jsonb_agg(k.keyword_id ORDER BY k.id), '[]') FROM frame_keyword k
                WHERE k.frame_id = f.id) AS keywords
        FROM filed_frame f
        SQL;
    private const MEANT = '(SELECT value::bigint FROM jsonb_array_elements_text(CAST(:frames AS jsonb)))';

    public function __construct(
        private Connection $database,
        private Rows $rows,
        private JsonRows $jsonRows,
        private EntityRows $entityRows,
    ) {
    }

    /** @param list<FiledFrame> $frames whose first files are filed just now; they have their ids then */
    public function addAll(array $frames): void
    {
        $this->entityRows->insertAllWithIds(FiledFrame::class, $frames);
    }

    /** The shoot of a frame, by its id. */
    public function shootOf(int $frame): int
    {
        return $this->rows->one('SELECT shoot_id FROM filed_frame WHERE id = :frame', ['frame' => $frame])
            ->int('shoot_id');
    }

    /** Whether anything is said of a frame, so that its files must say it. */
    public function says(int $frame): bool
    {
        return $this->rows->one(<<<'SQL'
            SELECT r.says <> '{}' OR r.rating IS NOT NULL
                OR EXISTS (SELECT FROM frame_keyword k WHERE k.frame_id = r.id) AS it
            FROM filed_frame r WHERE r.id = :frame
            SQL, ['frame' => $frame])->bool('it');
    }

    /**
     * Of frames, those with files that say it when their frame is struck, by the house style that they came by.
     *
     * @param list<int> $frames
     *
     * @return list<int>
     */
    public function writingStruck(array $frames): array
    {
        return array_map(static fn (Row $row): int => $row->int('id'), $this->rows->all(
            'SELECT DISTINCT p.frame_id AS id FROM filed_file p JOIN intake i ON i.id = p.intake_id
                WHERE p.frame_id IN '.self::MEANT." AND i.style_document::jsonb
                    @> jsonb_build_object('metadata', jsonb_build_object('writes_struck', true))",
            ['frames' => self::list($frames)],
        ));
    }

    public function words(int $frame): FrameWords
    {
        return self::read($this->rows->one(self::WORDS.' WHERE f.id = :id', ['id' => $frame]));
    }

    /**
     * Within a transaction: nobody else changes them before its end.
     *
     * @param list<int> $frames
     *
     * @return list<FrameWords> of those that are still there
     */
    public function wordsToChange(array $frames): array
    {
        return array_map(self::read(...), $this->rows->all(
            self::WORDS.' WHERE f.id IN '.self::MEANT.' ORDER BY f.id FOR UPDATE',
            ['frames' => self::list($frames)],
        ));
    }

    /**
     * @param list<int> $frames those that are not of the shoot are passed over
     *
     * @return list<FrameWords>
     */
    public function wordsOf(int $shoot, array $frames): array
    {
        return array_map(self::read(...), $this->rows->all(
            self::WORDS.' WHERE f.shoot_id = :shoot AND f.id IN '.self::MEANT.' ORDER BY f.id',
            ['shoot' => $shoot, 'frames' => self::list($frames)],
        ));
    }

    /** @param array<int, Metadata> $own what the files of frames say themselves, by the frame */
    public function keepOwn(array $own): void
    {
        $this->jsonRows->execute(
            'UPDATE filed_frame f SET own = r.own
                FROM jsonb_to_recordset(CAST(:rows AS jsonb)) AS r(id bigint, own jsonb) WHERE f.id = r.id',
            array_map(static fn (int $frame, Metadata $said): array => [
                'id' => $frame,
                'own' => ['texts' => (object) $said->texts, 'rating' => $said->rating],
            ], array_keys($own), $own),
        );
    }

    /**
     * Says something of frames.
     *
     * @param list<int>             $frames
     * @param array<string, string> $texts  by the field's value; the others stay
     * @param int|null              $rating null: it stays, as does the verdict
     * @param string|null           $by     who judges, where either is given; null where it is not said
     */
    public function say(
        array $frames,
        array $texts,
        ?int $rating,
        ?Verdict $verdict = null,
        ?string $by = null,
    ): void {
        $this->database->executeStatement(
            'UPDATE filed_frame SET says = says || CAST(:texts AS jsonb), rating = coalesce(:rating, rating),
                verdict = coalesce(:verdict, verdict),
                judged_by = CASE WHEN :judged THEN :by ELSE judged_by END WHERE id IN '.self::MEANT,
            [
                'texts' => json_encode((object) $texts, \JSON_THROW_ON_ERROR | \JSON_UNESCAPED_UNICODE),
                'rating' => $rating,
                'verdict' => $verdict?->value,
                'judged' => null !== $rating || null !== $verdict,
                'by' => $by,
                'frames' => self::list($frames),
            ],
            ['judged' => ParameterType::BOOLEAN],
        );
    }

    /**
     * How the pictures of frames are shown; of those that have a picture in their files.
     *
     * @param list<int> $frames
     *
     * @return array<int, Orientation> by the frame
     */
    public function shown(array $frames): array
    {
        $shown = [];
        foreach ($this->rows->all(
            'SELECT f.id, coalesce('.self::ROTATED.", f.facts->>'orientation', '1') AS orientation FROM filed_frame f
                WHERE f.id IN ".self::MEANT.' AND EXISTS (SELECT FROM filed_file p WHERE p.frame_id = f.id
                    AND p.kind IN (SELECT jsonb_array_elements_text(CAST(:kinds AS jsonb))))',
            ['frames' => self::list($frames), 'kinds' => json_encode(
                array_values(array_filter(FileKind::cases(), static fn (FileKind $kind): bool => $kind->isStill())),
                \JSON_THROW_ON_ERROR,
            )],
        ) as $row) {
            $shown[$row->int('id')] = Orientation::tryFrom((int) $row->text('orientation')) ?? Orientation::AsStored;
        }

        return $shown;
    }

    /**
     * @param list<int> $frames
     *
     * @return array<int, string|null> keys of the pictures that stand for them, by the frame
     */
    public function pictures(array $frames): array
    {
        $pictures = [];
        foreach ($this->rows->all(
            'SELECT f.id, '.self::PICTURE.' AS picture FROM filed_frame f WHERE f.id IN '.self::MEANT,
            ['frames' => self::list($frames)],
        ) as $row) {
            $pictures[$row->int('id')] = $row->textOrNull('picture');
        }

        return $pictures;
    }

    /**
     * Puts tabs on frames, and takes others off.
     *
     * @param list<int> $frames
     * @param list<int> $on     those that are gone are passed over
     * @param list<int> $off
     */
    public function tab(array $frames, array $on, array $off): void
    {
        $this->database->executeStatement(
            "UPDATE filed_frame f SET tabs = (SELECT coalesce(jsonb_agg(t.id ORDER BY t.id), '[]') FROM tab t
                WHERE (f.tabs || CAST(:on AS jsonb)) @> to_jsonb(t.id) AND NOT CAST(:off AS jsonb) @> to_jsonb(t.id))
                WHERE f.id IN ".self::MEANT,
            ['on' => self::list($on), 'off' => self::list($off), 'frames' => self::list($frames)],
        );
    }

    /** @param list<FrameWords> $words are all that is said of their frames then; tabs that are gone are passed over */
    public function keepWords(array $words): void
    {
        $this->jsonRows->execute(
            "UPDATE filed_frame f SET says = r.says, rating = r.rating, verdict = r.verdict, judged_by = r.judged_by,
                    tabs = (SELECT coalesce(jsonb_agg(t.id ORDER BY t.id), '[]') FROM tab t
                        WHERE r.tabs @> to_jsonb(t.id))
                FROM jsonb_to_recordset(CAST(:rows AS jsonb))
                    AS r(id bigint, says jsonb, rating smallint, verdict text, judged_by text, tabs jsonb)
                WHERE f.id = r.id",
            array_map(static fn (FrameWords $one): array => [
                'id' => $one->frame, 'says' => (object) $one->says, 'rating' => $one->rating,
                'verdict' => $one->verdict->value, 'judged_by' => $one->judgedBy, 'tabs' => $one->tabs,
            ], $words),
        );
        $this->database->executeStatement(
            'DELETE FROM frame_keyword WHERE frame_id IN '.self::MEANT,
            ['frames' => self::list(array_map(static fn (FrameWords $one): int => $one->frame, $words))],
        );
        $given = [];
        foreach ($words as $one) {
            foreach ($one->keywords as $keyword) {
                $given[] = ['frame' => $one->frame, 'keyword' => $keyword];
            }
        }
        $this->giveAll($given);
    }

    /**
     * @param list<int> $frames
     * @param list<int> $keywords that they have then, too, in this order; those that are gone are passed over
     */
    public function give(array $frames, array $keywords): void
    {
        // a whole shoot gets them at once, so each list is sent once
        $this->database->executeStatement(<<<'SQL'
            INSERT INTO frame_keyword (frame_id, keyword_id)
            SELECT f.value::bigint, k.id
            FROM jsonb_array_elements_text(CAST(:frames AS jsonb)) AS f,
                jsonb_array_elements_text(CAST(:ids AS jsonb)) WITH ORDINALITY AS w
                JOIN keyword k ON k.id = w.value::int
            ORDER BY 1, w.ordinality ON CONFLICT DO NOTHING
            SQL, ['frames' => self::list($frames), 'ids' => self::list($keywords)]);
    }

    /** @param list<array{frame: int, keyword: int}> $rows keywords that are gone are passed over */
    public function giveAll(array $rows): void
    {
        $this->jsonRows->execute(
            'INSERT INTO frame_keyword (frame_id, keyword_id) SELECT r.frame, r.keyword FROM ROWS
                FROM (jsonb_to_recordset(CAST(:rows AS jsonb)) AS (frame bigint, keyword int))
                    WITH ORDINALITY AS r(frame, keyword, n)
                JOIN keyword k ON k.id = r.keyword ORDER BY r.n ON CONFLICT DO NOTHING',
            $rows,
        );
    }

    /**
     * @param list<int> $frames
     * @param list<int> $keywords
     */
    public function take(array $frames, array $keywords): void
    {
        $this->database->executeStatement(
            'DELETE FROM frame_keyword WHERE frame_id IN '.self::MEANT.' AND keyword_id IN (SELECT value::int
                FROM jsonb_array_elements_text(CAST(:ids AS jsonb)))',
            ['frames' => self::list($frames), 'ids' => self::list($keywords)],
        );
    }

    /**
     * A frame has these keywords and, of its own, those that are in no file: private ones and headings.
     *
     * @param list<int> $keywords
     */
    public function giveInstead(int $frame, array $keywords): void
    {
        $this->database->executeStatement(
            'DELETE FROM frame_keyword f USING keyword k WHERE f.frame_id = :frame AND k.id = f.keyword_id
                AND NOT k.private AND NOT k.heading AND NOT (f.keyword_id IN (SELECT value::int
                FROM jsonb_array_elements_text(CAST(:ids AS jsonb))))',
            ['frame' => $frame, 'ids' => self::list($keywords)],
        );
        $this->give([$frame], $keywords);
    }

    private static function read(Row $row): FrameWords
    {
        return new FrameWords(
            $row->int('id'),
            Metadata::fromArray(['texts' => $row->json('says')])->texts,
            $row->intOrNull('rating'),
            Metadata::fromArray($row->json('own')),
            array_values(array_filter($row->json('keywords'), is_int(...))),
            Verdict::from($row->text('verdict')),
            $row->ints('tabs'),
            $row->textOrNull('judged_by'),
        );
    }

    /** @param list<int> $ids */
    private static function list(array $ids): string
    {
        return json_encode($ids, \JSON_THROW_ON_ERROR);
    }
}
