<?php

declare(strict_types=1);

namespace Velvet\Server\Http;

use Velvet\Server\Store\LedgerChain;
use Velvet\Server\Store\LedgerChecks;
use Velvet\Server\Store\Row;
use Velvet\Server\Store\Rows;

/** The intakes that left something in the ledger, and whether the ledger's chain of seals is whole. */
final readonly class LedgerView
{
    public function __construct(private Rows $rows, private LedgerChain $chain, private LedgerChecks $checks)
    {
    }

    /**
     * @return array{
     *     intakes: list<array<string, mixed>>,
     *     chain: array{lines: int, whole: bool, broken_at: int|null, lacks: list<int>},
     *     all_checked_at: string|null,
     * }
     */
    public function all(): array
    {
        $since = $this->checks->last();

        return [
            'intakes' => $this->intakes(),
            'chain' => $this->chain->check($since),
            'all_checked_at' => $since?->at->format('c'),
        ];
    }

    /** @return list<array<string, mixed>> latest first */
    private function intakes(): array
    {
        return array_map(static fn (Row $row): array => [
            'id' => $row->int('id'),
            'state' => $row->text('state'),
            'started_at' => (new \DateTimeImmutable($row->text('started_at')))->format('c'),
            'cards' => $row->json('cards'),
            'shoots' => $row->json('shoots'),
            'frames' => $row->int('frames'),
            'bytes' => $row->int('bytes'),
            'failed' => $row->int('failed'),
            'skipped' => $row->int('skipped'),
            'seconds' => (float) $row->text('seconds'),
        ], $this->rows->all(<<<'SQL'
            SELECT i.id, i.state, i.started_at, i.seconds::text,
                   (SELECT coalesce(jsonb_agg(c.label ORDER BY c.label), '[]') FROM intake_card ic
                       JOIN card c ON c.id = ic.card_id WHERE ic.intake_id = i.id) AS cards,
                   (SELECT coalesce(jsonb_agg(jsonb_build_object('id', s.id, 'name', s.name, 'day', s.day)
                       ORDER BY e.number), '[]') FROM entry e JOIN shoot s ON s.id = e.shoot_id
                       WHERE e.intake_id = i.id) AS shoots,
                   (SELECT count(DISTINCT frame_key) FROM transfer t WHERE t.intake_id = i.id
                       AND t.state = 'filed') AS frames,
                   (SELECT coalesce(sum(bytes), 0) FROM transfer t WHERE t.intake_id = i.id
                       AND t.state = 'filed') AS bytes,
                   (SELECT count(*) FROM transfer t WHERE t.intake_id = i.id AND t.state = 'failed') AS failed,
                   (SELECT count(*) FROM skipped k WHERE k.intake_id = i.id) AS skipped
            FROM intake i WHERE i.state <> 'sheet' ORDER BY i.started_at DESC, i.id DESC
            SQL));
    }
}
