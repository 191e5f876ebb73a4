<?php

declare(strict_types=1);

namespace Velvet\Server\Store;

use Velvet\Core\Capture\PictureMeasures;

/** What small pictures tell, by the picture's key; it outlives the card. */
final readonly class MeasuredPictures
{
    public function __construct(private Rows $rows, private JsonRows $jsonRows)
    {
    }

    /**
     * @param int $after frames of a greater id
     *
     * @return list<string> pictures of the card's frames that are not measured yet
     */
    public function missing(int $card, int $after, int $upTo): array
    {
        return array_map(static fn (Row $row): string => $row->text('picture'), $this->rows->all(
            'SELECT f.picture FROM card_frame f LEFT JOIN measured_picture m ON m.picture = f.picture
                WHERE f.card_id = :card AND f.id > :after AND f.id <= :upTo AND f.picture IS NOT NULL
                    AND m.likeness IS NULL ORDER BY f.id',
            ['card' => $card, 'after' => $after, 'upTo' => $upTo],
        ));
    }

    /** @return PictureMeasures|null of a row that has its columns; null where it is not measured */
    public static function of(Row $row): ?PictureMeasures
    {
        return null === $row->floatOrNull('brightness') ? null : new PictureMeasures(
            $row->float('brightness'),
            $row->float('black'),
            $row->float('clipped'),
            $row->floatOrNull('sharpness'),
        );
    }

    public function has(string $picture): bool
    {
        return null !== $this->rows->first(
            'SELECT 1 FROM measured_picture WHERE picture = :picture AND likeness IS NOT NULL',
            ['picture' => $picture],
        );
    }

    /** @param array<string, PictureMeasures> $measured by picture */
    public function keep(array $measured): void
    {
        ksort($measured); // two who keep the same ones wait for each other in one order
        $this->jsonRows->execute(
            'INSERT INTO measured_picture (picture, brightness, black, clipped, sharpness, likeness, in_focus)
                SELECT * FROM jsonb_to_recordset(CAST(:rows AS jsonb)) AS r(picture text, brightness real, black real,
                    clipped real, sharpness real, likeness text, in_focus real)
                ON CONFLICT (picture) DO UPDATE SET likeness = excluded.likeness, in_focus = excluded.in_focus',
            array_map(static fn (string $picture, PictureMeasures $measures): array => [
                'picture' => $picture,
                'brightness' => $measures->brightness,
                'black' => $measures->black,
                'clipped' => $measures->clipped,
                'sharpness' => $measures->sharpness,
                'likeness' => $measures->likeness->hex ?? '', // measured, and nothing to see
                'in_focus' => $measures->inFocus,
            ], array_map(strval(...), array_keys($measured)), $measured),
        );
    }

    /** @return list<float|null> how bright a shoot's frames are, as {@see Shoots::frameIds()} orders them; 0 to 1 */
    public function brightnessOf(int $shoot): array
    {
        return array_map(static fn (Row $row): ?float => $row->floatOrNull('brightness'), $this->rows->all(
            'SELECT round(m.brightness::numeric, 3)::float AS brightness FROM filed_frame f
                LEFT JOIN measured_picture m ON m.picture = f.picture WHERE '.Shoots::inCaptureOrder(Lot::InShoot),
            ['shoot' => $shoot],
        ));
    }
}
