<?php

declare(strict_types=1);

namespace Velvet\Server\Work\Backup;

/** Which backups are kept: the latest, and the last one of each of some days and months. */
final readonly class Retention
{
    public function __construct(private int $latest, private int $days, private int $months)
    {
    }

    public static function ofHome(): self
    {
        return new self(6, 14, 12);
    }

    /** Beside the pictures, where room is the photographer's. */
    public static function ofPlaces(): self
    {
        return new self(3, 0, 0);
    }

    /**
     * @param array<string, \DateTimeImmutable> $made when each was made, by its name
     *
     * @return list<string> the names of those that are kept, latest first
     */
    public function kept(array $made): array
    {
        uasort($made, static fn (\DateTimeImmutable $a, \DateTimeImmutable $b): int => $b <=> $a);
        $kept = \array_slice(array_keys($made), 0, $this->latest);
        foreach (['Y-m-d' => $this->days, 'Y-m' => $this->months] as $format => $most) {
            $lastOf = [];
            foreach ($made as $name => $at) {
                $lastOf[$at->format($format)] ??= $name;
            }
            array_push($kept, ...\array_slice(array_values($lastOf), 0, $most));
        }

        return array_values(
            array_filter(array_keys($made), static fn (string $name): bool => \in_array($name, $kept, true)),
        );
    }
}
