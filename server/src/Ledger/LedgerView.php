<?php

declare(strict_types=1);

namespace Velvet\Server\Ledger;

use Velvet\Core\Receipt\LedgerLine;
use Velvet\Core\Receipt\Seal;
use Velvet\Server\Row;
use Velvet\Server\Rows;

/** The intakes that left something in the ledger, and whether the ledger's chain of seals is whole. */
final readonly class LedgerView
{
    public function __construct(private Rows $rows)
    {
    }

    /** @return array<string, mixed> */
    public function all(): array
    {
        return ['intakes' => $this->intakes(), 'chain' => $this->chain()];
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
                   (SELECT coalesce(jsonb_agg(c.label ORDER BY c.label), '[]') FROM intake_card ic JOIN card c ON c.id = ic.card_id WHERE ic.intake_id = i.id) AS cards,
                   (SELECT coalesce(jsonb_agg(jsonb_build_object('id', s.id, 'name', s.name, 'day', s.day) ORDER BY e.number), '[]') FROM entry e JOIN shoot s ON s.id = e.shoot_id WHERE e.intake_id = i.id) AS shoots,
                   (SELECT count(DISTINCT frame_key) FROM transfer t WHERE t.intake_id = i.id AND t.state = 'filed') AS frames,
                   (SELECT coalesce(sum(bytes), 0) FROM transfer t WHERE t.intake_id = i.id AND t.state = 'filed') AS bytes,
                   (SELECT count(*) FROM transfer t WHERE t.intake_id = i.id AND t.state = 'failed') AS failed,
                   (SELECT count(*) FROM skipped k WHERE k.intake_id = i.id) AS skipped
            FROM intake i WHERE i.state <> 'sheet' ORDER BY i.started_at DESC, i.id DESC
            SQL));
    }

    /**
     * Computes every seal anew.
     *
     * @return array{lines: int, whole: bool, broken_at: int|null, lacks: list<int>} lines that fit; the first that does not; intakes whose receipts have a seal that no line has
     */
    private function chain(): array
    {
        $before = LedgerLine::FIRST_SEAL;
        $lines = 0;
        $last = 0;
        do {
            $page = $this->rows->all('SELECT id, at, event, details, before, seal FROM ledger_line WHERE id > :last ORDER BY id LIMIT 5000', ['last' => $last]);
            foreach ($page as $row) {
                $line = LedgerLine::sealed($before, $row->text('at'), $row->text('event'), $row->text('details'));
                if ($row->text('before') !== $before || $row->text('seal') !== $line->seal) {
                    return ['lines' => $lines, 'whole' => false, 'broken_at' => $row->int('id'), 'lacks' => []];
                }
                $before = $line->seal;
                $last = $row->int('id');
                ++$lines;
            }
        } while ([] !== $page);

        $lacks = $this->lacks();

        return ['lines' => $lines, 'whole' => [] === $lacks, 'broken_at' => null, 'lacks' => $lacks];
    }

    /**
     * Whether a seal that was kept elsewhere is that of a line. A chain alone does not notice that its last lines are
     * missing.
     */
    public function has(Seal $seal): bool
    {
        return null !== $this->rows->first('SELECT id FROM ledger_line WHERE seal = :seal', ['seal' => $seal->hex]);
    }

    /** @return list<int> */
    private function lacks(): array
    {
        return array_map(static fn (Row $row): int => $row->int('id'), $this->rows->all(
            'SELECT i.id FROM intake i WHERE i.seal IS NOT NULL AND NOT EXISTS (SELECT FROM ledger_line l
                WHERE l.seal = i.seal) ORDER BY i.id',
        ));
    }
}
