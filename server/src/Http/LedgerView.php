<?php

declare(strict_types=1);

namespace Velvet\Server\Http;

use Velvet\Server\Store\IntakeSums;
use Velvet\Server\Store\LedgerActs;
use Velvet\Server\Store\LedgerChain;
use Velvet\Server\Store\LedgerChecks;
use Velvet\Server\Store\Row;

/** The intakes and acts that left something in the ledger, and whether the ledger's chain of seals is whole. */
final readonly class LedgerView
{
    public function __construct(
        private IntakeSums $sums,
        private LedgerChain $chain,
        private LedgerChecks $checks,
        private LedgerActs $acts,
    ) {
    }

    /**
     * @return array{
     *     intakes: list<array<string, mixed>>,
     *     acts: list<array<string, mixed>>,
     *     chain: array{lines: int, whole: bool, broken_at: int|null, lacks: list<int>},
     *     all_checked_at: string|null,
     * }
     */
    public function all(): array
    {
        $since = $this->checks->last();

        return [
            'intakes' => $this->intakes(),
            'acts' => $this->acts->latest(),
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
        ], $this->sums->all());
    }
}
