<?php

declare(strict_types=1);

namespace Velvet\Server\Store;

/** Filed raw files of a selection of frames, and their DNGs. */
final readonly class FiledRaws
{
    private const OF = <<<'SQL'
        FROM filed_file f JOIN filed_frame r ON r.id = f.frame_id
        WHERE r.shoot_id = :shoot AND r.id IN (SELECT value::bigint
            FROM jsonb_array_elements_text(CAST(:frames AS jsonb)))
        SQL;
    private const UNDER_WAY = "f.dng_state IN ('waiting', 'leaving', 'returning')";
    /** As {@see \Velvet\Core\Filed\FiledFile::mayBecomeDng()} says it of one that has no DNG beside it. */
    private const CONVERTIBLE = <<<'SQL'
        f.kind = 'raw' AND f.dng_state IN ('none', 'refused', 'made')
        AND f.whereabouts = 'in_shoot' AND f.heading IS NULL
        AND NOT EXISTS (SELECT FROM filed_file d WHERE d.made_from = f.id)
        SQL;
    /** As {@see \Velvet\Core\Filed\FiledFile::mayGiveRawBack()} says it of one. */
    private const INSIDE = <<<'SQL'
        f.kind = 'dng' AND f.dng_choice = 'embed' AND f.raw_path IS NOT NULL
        AND f.dng_state IN ('none', 'refused', 'made') AND f.whereabouts = 'in_shoot' AND f.heading IS NULL
        SQL;

    public function __construct(private Rows $rows)
    {
    }

    /**
     * @param list<int> $frames
     *
     * @return array{raws: int, inside: int, made: int, waiting: int, refused: list<string>} raw files that can be
     *     converted, that lie within their DNGs, that are DNG, that wait for either; and why some were not
     */
    public function count(int $shoot, array $frames): array
    {
        $of = self::meant($shoot, $frames);
        $sum = $this->rows->one(\sprintf(
            'SELECT count(*) FILTER (WHERE %s) AS raws, count(*) FILTER (WHERE %s) AS inside,
                count(*) FILTER (WHERE f.samples IS NOT NULL) AS made, count(*) FILTER (WHERE %s) AS waiting %s',
            self::CONVERTIBLE,
            self::INSIDE,
            self::UNDER_WAY,
            self::OF,
        ), $of);

        return [
            'raws' => $sum->int('raws'), 'inside' => $sum->int('inside'), 'made' => $sum->int('made'),
            'waiting' => $sum->int('waiting'),
            'refused' => array_map(
                static fn (Row $row): string => $row->text('dng_note'),
                $this->rows->all('SELECT f.dng_note '.self::OF." AND f.dng_state = 'refused' ORDER BY f.id", $of),
            ),
        ];
    }

    /**
     * @param list<int> $frames
     *
     * @return list<int> raw files that can become DNG
     */
    public function convertible(int $shoot, array $frames): array
    {
        return $this->ids(self::CONVERTIBLE, $shoot, $frames);
    }

    /**
     * @param list<int> $frames
     *
     * @return list<int> DNGs that can give their raw file back
     */
    public function withRawInside(int $shoot, array $frames): array
    {
        return $this->ids(self::INSIDE, $shoot, $frames);
    }

    /** Files that are still to be converted or taken out, those of intakes under way not counted. */
    public function left(): int
    {
        return $this->rows->one(
            'SELECT count(*) AS n FROM filed_file f JOIN intake i ON i.id = f.intake_id
                WHERE '.self::UNDER_WAY." AND i.state IN ('done', 'stopped')",
        )->int('n');
    }

    /**
     * @param list<int> $frames
     *
     * @return list<int>
     */
    private function ids(string $which, int $shoot, array $frames): array
    {
        return array_map(
            static fn (Row $row): int => $row->int('id'),
            $this->rows->all(
                \sprintf('SELECT f.id %s AND %s ORDER BY f.id', self::OF, $which),
                self::meant($shoot, $frames),
            ),
        );
    }

    /**
     * @param list<int> $frames
     *
     * @return array{shoot: int, frames: string}
     */
    private static function meant(int $shoot, array $frames): array
    {
        return ['shoot' => $shoot, 'frames' => json_encode($frames, \JSON_THROW_ON_ERROR)];
    }
}
