<?php

declare(strict_types=1);

namespace Velvet\Server\Store;

/** What else is on the cards of a sheet: files that belong to no frame. */
final readonly class LooseFiles
{
    public function __construct(private Rows $rows)
    {
    }

    /**
     * @return list<Row> by card and path: `card`, its label; `path`, `kind`, `bytes`, the rule of `housekeeping` that
     *     it falls under; where it is `filed` already; the `target` that the intake gave it
     */
    public function of(int $intake): array
    {
        return $this->rows->all(<<<'SQL'
            SELECT k.label AS card, c.path, c.kind, c.bytes, c.housekeeping, ff.path AS filed,
                (SELECT t.target FROM transfer t WHERE t.intake_id = ic.intake_id AND t.card_id = c.card_id
                    AND t.source = c.path ORDER BY t.id LIMIT 1) AS target
            FROM intake_card ic JOIN card k ON k.id = ic.card_id JOIN card_file c ON c.card_id = k.id
                LEFT JOIN card_frame f ON f.id = c.frame_id LEFT JOIN filed_file ff ON ff.id = c.filed_file_id
            WHERE ic.intake_id = :intake AND (c.frame_id IS NULL OR f.loose) ORDER BY k.label, k.id, c.path
            SQL, ['intake' => $intake]);
    }
}
