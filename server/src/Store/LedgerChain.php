<?php

declare(strict_types=1);

namespace Velvet\Server\Store;

use Velvet\Core\Ledger\LedgerLine;
use Velvet\Core\Ledger\Seal;

/** Whether the ledger's chain of seals is whole. */
final readonly class LedgerChain
{
    public function __construct(private Rows $rows)
    {
    }

    /**
     * Computes every seal anew, or those of the lines that came since some were.
     *
     * @return array{lines: int, whole: bool, broken_at: int|null, lacks: list<int>} lines that fit; the first that does
     *                                                                               not; intakes whose receipts have a
     *                                                                               seal that no line has
     */
    public function check(?CheckedLines $since = null): array
    {
        $before = $since->seal ?? LedgerLine::FIRST_SEAL;
        $lines = $since->lines ?? 0;
        $last = $since->last ?? 0;
        do {
            $page = $this->rows->all(
                'SELECT id, at, event, details, before, seal FROM ledger_line WHERE id > :last ORDER BY id LIMIT 5000',
                ['last' => $last],
            );
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

    /**
     * @return string the last line's seal, 64 hexadecimal digits; of no line, that which the first one is chained to
     */
    public function end(): string
    {
        return $this->rows->first('SELECT seal FROM ledger_line ORDER BY id DESC LIMIT 1')?->text('seal')
            ?? LedgerLine::FIRST_SEAL;
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
