<?php

declare(strict_types=1);

namespace Velvet\Server\Store;

use Velvet\Core\Filed\Verdict;

/**
 * What people say of frames beside the verdict, each in their own name. What whoever judged the frame said before is
 * passed over: the verdict is their word now.
 */
final readonly class Marks
{
    private const BESIDE = 'SELECT m.frame_id, m.judged_by, m.verdict, m.rating FROM mark m
        JOIN filed_frame f ON f.id = m.frame_id WHERE m.judged_by IS DISTINCT FROM f.judged_by AND ';
    private const INTO = 'INSERT INTO mark (frame_id, judged_by, verdict, rating) ';
    private const OR_INSTEAD = ' ON CONFLICT (frame_id, judged_by)
        DO UPDATE SET verdict = excluded.verdict, rating = excluded.rating';
    private const MEANT = '(SELECT value::bigint FROM jsonb_array_elements_text(CAST(:rows AS jsonb)))';

    public function __construct(private Rows $rows, private JsonRows $jsonRows)
    {
    }

    /**
     * Before frames are judged by somebody: what others judged stays beside.
     *
     * @param list<int>   $frames
     * @param string|null $by     null: it is not said
     */
    public function keep(array $frames, ?string $by): void
    {
        $this->jsonRows->execute(
            self::INTO."SELECT f.id, f.judged_by, f.verdict, CASE WHEN f.rating < 0 THEN 0 ELSE f.rating END
                FROM filed_frame f
                WHERE f.judged_by <> coalesce(:by, '') AND (f.verdict <> 'open' OR f.rating IS NOT NULL)
                    AND f.id IN ".self::MEANT.self::OR_INSTEAD,
            $frames,
            ['by' => $by],
        );
    }

    /**
     * After a verdict was taken back or made again: whose word it is then says it themselves.
     *
     * @param list<int> $frames
     */
    public function drop(array $frames): void
    {
        $this->jsonRows->execute(
            'DELETE FROM mark m USING filed_frame f WHERE f.id = m.frame_id AND m.judged_by = f.judged_by
                AND f.id IN '.self::MEANT,
            $frames,
        );
    }

    /**
     * @param list<int>    $frames
     * @param Verdict|null $verdict null: as it is
     * @param int|null     $stars   null: none
     */
    public function put(array $frames, string $by, ?Verdict $verdict, ?int $stars): void
    {
        $this->jsonRows->execute(
            self::INTO.'SELECT f.id, :by, coalesce(:verdict, f.verdict), CAST(:rating AS smallint) FROM filed_frame f
                WHERE f.id IN '.self::MEANT.self::OR_INSTEAD,
            $frames,
            ['by' => $by, 'verdict' => $verdict?->value, 'rating' => $stars],
        );
    }

    /**
     * @param list<int> $frames
     *
     * @return array<int, list<array{by: string, verdict: Verdict, stars: int|null}>> by the frame, in the order of
     *     names
     */
    public function beside(array $frames): array
    {
        // one parameter: a search may find more frames than a statement may have of those
        return $this->read(
            'm.frame_id IN '.self::MEANT,
            ['rows' => json_encode($frames, \JSON_THROW_ON_ERROR)],
        );
    }

    /** @return array<int, list<array{by: string, verdict: Verdict, stars: int|null}>> as {@see self::beside()} */
    public function inShoot(int $shoot): array
    {
        return $this->read('f.shoot_id = :shoot', ['shoot' => $shoot]);
    }

    /**
     * What somebody says of frames that somebody else judged, or nobody.
     *
     * @param list<int> $frames
     *
     * @return list<array{frames: non-empty-list<int>, verdict: Verdict, stars: int|null}> those that they say the same
     *     of together
     */
    public function of(string $whose, array $frames): array
    {
        $said = [];
        foreach ($this->beside($frames) as $frame => $marks) {
            foreach ($marks as ['by' => $by, 'verdict' => $verdict, 'stars' => $stars]) {
                if ($by === $whose) {
                    $same = $verdict->value.' '.$stars;
                    $others = $said[$same]['frames'] ?? [];
                    $said[$same] = ['frames' => [...$others, $frame], 'verdict' => $verdict, 'stars' => $stars];
                }
            }
        }

        return array_values($said);
    }

    /**
     * @param array<string, mixed> $parameters
     *
     * @return array<int, list<array{by: string, verdict: Verdict, stars: int|null}>>
     */
    private function read(string $which, array $parameters): array
    {
        $marks = [];
        foreach ($this->rows->each(self::BESIDE.$which.' ORDER BY m.judged_by', $parameters) as $row) {
            $marks[$row->int('frame_id')][] = [
                'by' => $row->text('judged_by'),
                'verdict' => Verdict::from($row->text('verdict')),
                'stars' => $row->intOrNull('rating'),
            ];
        }

        return $marks;
    }
}
