<?php

declare(strict_types=1);

namespace Velvet\Server\Store;

/** What the ledger has of one filed frame, from the card to today. */
final readonly class Custody
{
    public function __construct(private Rows $rows)
    {
    }

    /**
     * @return list<array{at: string, event: string, file: string, from: string|null, card: string|null,
     *     to: list<string>, digest: string|null, intake: int|null}> earliest first; empty where there is no such frame
     */
    public function ofFrame(int $frameId): array
    {
        $files = $this->rows->all(
            "SELECT f.id, f.path, f.checked_at, (SELECT coalesce(jsonb_agg(DISTINCT p.root), '[]') FROM filed_copy c
                JOIN place p ON p.id = c.place_id WHERE c.file_id = f.id AND c.state <> 'whole') AS damaged
                FROM filed_file f WHERE f.frame_id = :frame ORDER BY f.id",
            ['frame' => $frameId],
        );
        $lines = [];
        foreach ($files as $file) {
            foreach ($this->rows->all(<<<'SQL'
                SELECT l.id, l.at, l.event, l.details, coalesce(l.details::jsonb ->> 'card', (SELECT c.label
                    FROM transfer t JOIN card c ON c.id = t.card_id WHERE t.filed_file_id = :file ORDER BY t.id
                    LIMIT 1)) AS label
                FROM ledger_line l WHERE l.details::jsonb ->> 'file' = CAST(:file AS text)
                UNION
                -- lines from before files were named in them: only where no other card of the intake had one
                -- of the same path
                SELECT l.id, l.at, l.event, l.details, c.label FROM transfer t JOIN card c ON c.id = t.card_id
                JOIN ledger_line l ON (l.details::jsonb ->> 'from') = t.source
                    AND (l.details::jsonb ->> 'intake') = t.intake_id::text
                    AND NOT jsonb_exists(l.details::jsonb, 'file')
                WHERE t.filed_file_id = :file AND CASE WHEN jsonb_exists(l.details::jsonb, 'card')
                    THEN l.details::jsonb ->> 'card' = c.label
                      ELSE NOT EXISTS (SELECT FROM transfer o WHERE o.intake_id = t.intake_id AND o.source = t.source
                          AND o.card_id <> t.card_id) END
                ORDER BY 1
                SQL, ['file' => $file->int('id')]) as $row) {
                $lines[] = self::line($file, $row);
            }
            if (null !== $at = $file->textOrNull('checked_at')) {
                $damaged = array_values(array_filter($file->json('damaged'), is_string(...)));
                $lines[] = [
                    'at' => (new \DateTimeImmutable($at))->format('c'),
                    'event' => [] === $damaged ? 'checked' : 'found_damaged',
                    'file' => basename($file->text('path')),
                    'from' => null,
                    'card' => null,
                    'to' => $damaged,
                    'digest' => null,
                    'intake' => null,
                ];
            }
        }
        usort(
            $lines,
            static fn (array $a, array $b): int => new \DateTimeImmutable($a['at'])
                <=> new \DateTimeImmutable($b['at']),
        );

        return $lines;
    }

    /**
     * @return array{at: string, event: string, file: string, from: string|null, card: string|null, to: list<string>,
     *     digest: string|null, intake: int|null}
     */
    private static function line(Row $file, Row $row): array
    {
        $details = $row->json('details');
        $to = $details['to'] ?? [];
        $to = \is_string($to) ? [$to] : $to;
        [$from, $digest, $intake] = [$details['from'] ?? null, $details['digest'] ?? null, $details['intake'] ?? null];

        return [
            'at' => $row->text('at'), 'event' => $row->text('event'), 'file' => basename($file->text('path')),
            'from' => \is_string($from) ? $from : null, 'card' => $row->textOrNull('label'),
            'to' => array_values(array_filter(\is_array($to) ? $to : [], is_string(...))),
            'digest' => \is_string($digest) ? $digest : null, 'intake' => \is_int($intake) ? $intake : null,
        ];
    }
}
