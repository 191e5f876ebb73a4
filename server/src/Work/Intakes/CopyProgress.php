<?php

declare(strict_types=1);

namespace Velvet\Server\Work\Intakes;

use Velvet\Server\Store\Happenings;
use Velvet\Server\Store\Intake;
use Velvet\Server\Store\IntakeSums;
use Velvet\Server\Store\Row;
use Velvet\Server\Store\Transaction;

/**
 * How far an intake is. The browsers are told so, that none of them need ask; of thousands of files a sum takes its
 * time, so the more it takes the more seldom they are told.
 */
final class CopyProgress
{
    private const TELL_EVERY = 0.25; // seconds
    /** Of the time that passes, at most one part in so many goes into sums. */
    private const PART = 20;

    private float $next = 0.0;

    public function __construct(
        private readonly IntakeSums $sums,
        private readonly Happenings $happenings,
        private readonly Transaction $transaction,
    ) {
    }

    public function tell(Intake $intake): void
    {
        $since = microtime(true);
        if ($since < $this->next) {
            return;
        }
        // sums of one moment, that the entries add up to the whole while another worker files
        $told = $this->transaction->ofReading(function () use ($intake): array {
            $sums = $this->sums->copiedByEntry($intake);
            $entries = [];
            foreach ($intake->entries as $entry) {
                $entries[] = ['number' => $entry->number, 'progress' => self::ofEntry($sums[$entry->id()] ?? null)];
            }

            return ['progress' => $this->of($intake), 'entries' => $entries];
        });
        $this->happenings->tell('intake', ['id' => $intake->id()] + $told);
        $now = microtime(true);
        $this->next = $now + max(self::TELL_EVERY, self::PART * ($now - $since));
    }

    /**
     * @return array{files: int, files_done: int, bytes: int, bytes_done: int, bytes_filed: int, frames: int,
     *     frames_done: int, failed: int, to_write: int, now: list<array{name: string, step: string}>}
     */
    public function of(Intake $intake): array
    {
        $sum = $this->sums->copied($intake);

        return [
            'files' => $sum->int('files'),
            'files_done' => $sum->int('files_done'),
            'bytes' => $sum->int('bytes'),
            'bytes_done' => $sum->int('bytes_done'),
            'bytes_filed' => $sum->int('bytes_filed'),
            'frames' => $sum->int('frames'),
            'frames_done' => $sum->int('frames_done'),
            'failed' => $sum->int('failed'),
            'to_write' => $this->sums->toWrite($intake),
            'now' => $this->now($intake),
        ];
    }

    /**
     * @param Row|null $sum of {@see IntakeSums::copiedByEntry()}
     *
     * @return array{files: int, files_done: int, bytes_done: int, frames_done: int, failed: int}
     */
    public static function ofEntry(?Row $sum): array
    {
        return [
            'files' => $sum?->int('files') ?? 0,
            'files_done' => $sum?->int('files_done') ?? 0,
            'bytes_done' => $sum?->int('bytes_done') ?? 0,
            'frames_done' => $sum?->int('frames_done') ?? 0,
            'failed' => $sum?->int('failed') ?? 0,
        ];
    }

    /** @return list<array{name: string, step: string}> the files that workers are at */
    private function now(Intake $intake): array
    {
        return array_map(
            static fn (Row $row): array => [
                'name' => basename($row->text('target')),
                'step' => $row->bool('equals') ? 'comparing' : $row->text('state'),
            ],
            $this->sums->underWay($intake),
        );
    }
}
