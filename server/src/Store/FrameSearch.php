<?php

declare(strict_types=1);

namespace Velvet\Server\Store;

use Velvet\Core\Filed\Verdict;
use Velvet\Core\Shoot\Day;

/** Which filed frames are looked for: those that are all of it. */
final readonly class FrameSearch
{
    /**
     * @param list<int>|null $shoots null: all of them
     * @param int|null       $stars  at least so many
     * @param int|null       $tab    its id
     * @param string|null    $camera a part of its make or model
     */
    public function __construct(
        public ?array $shoots = null,
        public ?Verdict $verdict = null,
        public ?int $stars = null,
        public ?int $tab = null,
        public ?string $camera = null,
        public ?Day $from = null,
        public ?Day $to = null,
    ) {
    }

    /** Whether it looks for something, within the shoots. */
    public function isNarrow(): bool
    {
        return null !== $this->verdict || null !== $this->stars || null !== $this->tab || null !== $this->camera
            || null !== $this->from || null !== $this->to;
    }

    /** @return list<array{string, string, mixed}> conditions on `filed_frame f`, each with its parameter and value */
    public function conditions(): array
    {
        return array_values(array_filter([
            ['f.shoot_id IN (:shoots)', 'shoots', $this->shoots],
            ['f.verdict = :verdict', 'verdict', $this->verdict?->value],
            ['f.rating >= :stars', 'stars', $this->stars],
            ['f.tabs @> to_jsonb(CAST(:tab AS int))', 'tab', $this->tab],
            [
                "strpos(lower(concat_ws(' ', f.facts->>'make', f.facts->>'model')), lower(:camera)) > 0",
                'camera',
                $this->camera,
            ],
            ['f.captured_at >= CAST(:from AS date)', 'from', $this->from?->text()],
            ['f.captured_at < CAST(:to AS date) + 1', 'to', $this->to?->text()],
        ], static fn (array $condition): bool => null !== $condition[2]));
    }
}
