<?php

declare(strict_types=1);

namespace Velvet\Server\Ledger;

use Velvet\Server\Row;
use Velvet\Server\Rows;

/** What the ledger has of one filed frame, from the card to today. */
final readonly class Custody
{
    public function __construct(private Rows $rows)
    {
    }

    /**
     * @return list<array{at: string, event: string, file: string, from: string|null, card: string|null, to: list<string>, digest: string|null, intake: int|null}> earliest first; empty where there is no such frame
     */
    public function ofFrame(int $frameId): array
    {
        $files = $this->rows->all('SELECT DISTINCT f.id, f.path, f.checked_at, f.damaged_on_shelf, f.damaged_on_twin FROM filed_file f WHERE f.frame_id = :frame ORDER BY f.id', ['frame' => $frameId]);
        $lines = [];
        foreach ($files as $file) {
            foreach ($this->rows->all(<<<'SQL'
                SELECT l.at, l.event, l.details, c.label FROM transfer t JOIN card c ON c.id = t.card_id
                JOIN ledger_line l ON (l.details::jsonb ->> 'from') = t.source AND (l.details::jsonb ->> 'intake') = t.intake_id::text
                WHERE t.filed_file_id = :file AND (l.details::jsonb ->> 'card' IS NULL OR l.details::jsonb ->> 'card' = c.label) ORDER BY l.id
                SQL, ['file' => $file->int('id')]) as $row) {
                $lines[] = self::line($file, $row);
            }
            if (null !== $at = $file->textOrNull('checked_at')) {
                $damaged = array_keys(array_filter(['shelf' => $file->bool('damaged_on_shelf'), 'twin' => $file->bool('damaged_on_twin')]));
                $lines[] = ['at' => (new \DateTimeImmutable($at))->format('c'), 'event' => [] === $damaged ? 'checked' : 'found_damaged', 'file' => basename($file->text('path')), 'from' => null, 'card' => null, 'to' => $damaged, 'digest' => null, 'intake' => null];
            }
        }
        usort($lines, static fn (array $a, array $b): int => new \DateTimeImmutable($a['at']) <=> new \DateTimeImmutable($b['at']));

        return $lines;
    }

    /** @return array{at: string, event: string, file: string, from: string|null, card: string|null, to: list<string>, digest: string|null, intake: int|null} */
    private static function line(Row $file, Row $row): array
    {
        $details = $row->json('details');
        $to = $details['to'] ?? [];
        $to = \is_string($to) ? [$to] : $to;
        [$from, $digest, $intake] = [$details['from'] ?? null, $details['digest'] ?? null, $details['intake'] ?? null];

        return [
            'at' => $row->text('at'), 'event' => $row->text('event'), 'file' => basename($file->text('path')), 'from' => \is_string($from) ? $from : null, 'card' => $row->text('label'),
            'to' => array_values(array_filter(\is_array($to) ? $to : [], is_string(...))), 'digest' => \is_string($digest) ? $digest : null, 'intake' => \is_int($intake) ? $intake : null,
        ];
    }
}
