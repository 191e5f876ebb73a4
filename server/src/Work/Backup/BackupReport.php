<?php

declare(strict_types=1);

namespace Velvet\Server\Work\Backup;

/** What became of the latest backup: where the last good one is, and why a later try came to nothing. */
final readonly class BackupReport
{
    /**
     * @param string|null  $path      of the one in the home; null before there was any
     * @param list<string> $places    roots that hold it, too
     * @param list<string> $withoutIt roots where it could not be written
     * @param string|null  $failed    why a later try came to nothing
     */
    private function __construct(
        public ?string $path,
        public ?\DateTimeImmutable $madeAt,
        public int $bytes,
        public array $places,
        public array $withoutIt,
        public ?string $failed,
        public ?\DateTimeImmutable $failedAt,
    ) {
    }

    /**
     * @param list<string> $places
     * @param list<string> $withoutIt
     */
    public static function of(BackupFile $backup, array $places, array $withoutIt): self
    {
        return new self($backup->path, $backup->madeAt, (int) filesize($backup->path), $places, $withoutIt, null, null);
    }

    public function failed(\DateTimeImmutable $at, string $why): self
    {
        return new self($this->path, $this->madeAt, $this->bytes, $this->places, $this->withoutIt, $why, $at);
    }

    public static function fromJson(string $json): self
    {
        $report = json_decode($json, true);
        $of = static fn (string $name): mixed => \is_array($report) ? $report[$name] ?? null : null;
        $text = static fn (mixed $value): ?string => \is_string($value) ? $value : null;
        $time = static function (mixed $value): ?\DateTimeImmutable {
            $at = \is_string($value) ? date_create_immutable($value) : false;

            return false === $at ? null : $at;
        };
        $list = static fn (mixed $value): array => \is_array($value)
            ? array_values(array_filter($value, is_string(...)))
            : [];
        $bytes = $of('bytes');

        return new self(
            $text($of('path')),
            $time($of('made_at')),
            \is_int($bytes) ? $bytes : 0,
            $list($of('places')),
            $list($of('without_it')),
            $text($of('failed')),
            $time($of('failed_at')),
        );
    }

    /**
     * @return array{path: string|null, made_at: string|null, bytes: int, places: list<string>,
     *     without_it: list<string>, failed: string|null, failed_at: string|null}
     */
    public function toArray(): array
    {
        return [
            'path' => $this->path,
            'made_at' => $this->madeAt?->format('c'),
            'bytes' => $this->bytes,
            'places' => $this->places,
            'without_it' => $this->withoutIt,
            'failed' => $this->failed,
            'failed_at' => $this->failedAt?->format('c'),
        ];
    }
}
