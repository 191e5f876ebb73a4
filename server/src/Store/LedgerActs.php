<?php

declare(strict_types=1);

namespace Velvet\Server\Store;

/** What was done to filed frames by word, and checks of them, as the ledger has it. */
final readonly class LedgerActs
{
    private const MOST = 200;

    public function __construct(private Rows $rows)
    {
    }

    /**
     * @return list<array{at: string, event: string, shoot: array{id: int, name: string}|null, what: string|null,
     *     frames: int|null, files: int|null, bytes: int|null, good: int|null}> latest first; of a check `files` that
     *     were read, how many of them are `good`, and `what` was checked
     */
    public function latest(): array
    {
        return array_map(static function (Row $row): array {
            $details = $row->json('details');
            $number = static fn (string $member): ?int => \is_int($details[$member] ?? null) ? $details[$member] : null;
            $shoot = $row->intOrNull('shoot');
            $what = $details['what'] ?? null;

            return [
                'at' => $row->text('at'), 'event' => $row->text('event'),
                'shoot' => null === $shoot ? null : ['id' => $shoot, 'name' => $row->text('name')],
                'what' => \is_string($what) ? $what : null, 'frames' => $number('frames'),
                'files' => $number('files') ?? $number('checked'), 'bytes' => $number('bytes'),
                'good' => $number('good'),
            ];
        }, $this->rows->all(
            "SELECT l.at, l.event, l.details, s.id AS shoot, s.name FROM ledger_line l
                LEFT JOIN shoot s ON s.id = (l.details::jsonb ->> 'shoot')::int
                WHERE l.event IN ('checked', 'set_aside', 'brought_back', 'thrown_away', 'deleted', 'forgotten')
                ORDER BY l.id DESC LIMIT ".self::MOST,
        ));
    }
}
