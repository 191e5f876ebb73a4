<?php

declare(strict_types=1);

namespace Velvet\Server\Store;

use Doctrine\DBAL\Connection;
use Velvet\Core\Filed\FrameWords;
use Velvet\Core\Filed\Verdict;
use Velvet\Core\Metadata\Metadata;

/** The latest changes of what the frames of a shoot say; those that were undone lie behind the others. */
final readonly class MetadataSteps
{
    /** A whole first look can be undone. */
    private const MOST = 1000;

    private const DONE = 'shoot_id = :shoot AND after IS NULL ORDER BY id DESC LIMIT 1';
    private const UNDONE = 'shoot_id = :shoot AND after IS NOT NULL ORDER BY id LIMIT 1';

    public function __construct(private Connection $database, private Rows $rows)
    {
    }

    /**
     * Within a transaction: no other one changes what frames of the shoot say before its end.
     *
     * @return int the number of this change, one more than that of the one before
     */
    public function takeTurn(int $shoot): int
    {
        return $this->rows->one(
            'UPDATE shoot SET turn = turn + 1 WHERE id = :shoot RETURNING turn',
            ['shoot' => $shoot],
        )->int('turn');
    }

    /**
     * What would be undone and what made again, null where there is nothing; the numbers of both, of which a later one
     * is greater, also among the changes of several shoots.
     *
     * @return array{undo: string|null, undo_step: int|null, redo: string|null, redo_step: int|null}
     */
    public function history(int $shoot): array
    {
        [$done, $undone] = array_map(
            fn (string $which): ?Row => $this->rows->first(
                'SELECT id, label FROM metadata_step WHERE '.$which,
                ['shoot' => $shoot],
            ),
            [self::DONE, self::UNDONE],
        );

        return [
            'undo' => $done?->text('label'), 'undo_step' => $done?->int('id'),
            'redo' => $undone?->text('label'), 'redo_step' => $undone?->int('id'),
        ];
    }

    public function last(int $shoot): ?MetadataStep
    {
        return $this->step($shoot, self::DONE);
    }

    /** The first of those that were undone. */
    public function next(int $shoot): ?MetadataStep
    {
        return $this->step($shoot, self::UNDONE);
    }

    /**
     * A new change: what was undone cannot be made again any more.
     *
     * @param list<FrameWords> $before
     * @param string|null      $operation a UUID that no other one has
     */
    public function add(int $shoot, string $label, array $before, ?string $operation = null): void
    {
        $this->database->executeStatement(
            'DELETE FROM metadata_step WHERE shoot_id = :shoot AND (after IS NOT NULL OR id <= (SELECT id
                FROM metadata_step WHERE shoot_id = :shoot ORDER BY id DESC OFFSET :most LIMIT 1))',
            ['shoot' => $shoot, 'most' => self::MOST - 1],
        );
        $this->database->executeStatement(
            'INSERT INTO metadata_step (shoot_id, label, before, operation)
                VALUES (:shoot, :label, CAST(:before AS jsonb), :operation)',
            [
                'shoot' => $shoot,
                'label' => $label,
                'before' => self::written($before),
                'operation' => $operation,
            ],
        );
    }

    public function knows(string $operation): bool
    {
        return null !== $this->rows->first(
            'SELECT id FROM metadata_step WHERE operation = :operation',
            ['operation' => $operation],
        );
    }

    /** @param list<FrameWords> $after what its frames said until then */
    public function undone(MetadataStep $step, array $after): void
    {
        $this->database->executeStatement(
            'UPDATE metadata_step SET after = CAST(:after AS jsonb) WHERE id = :id',
            ['id' => $step->id, 'after' => self::written($after)],
        );
    }

    public function madeAgain(MetadataStep $step): void
    {
        $this->database->executeStatement('UPDATE metadata_step SET after = NULL WHERE id = :id', ['id' => $step->id]);
    }

    private function step(int $shoot, string $which): ?MetadataStep
    {
        $step = $this->rows->first(
            "SELECT id, label, before, coalesce(after, '[]') AS after FROM metadata_step WHERE ".$which,
            ['shoot' => $shoot],
        );

        return null === $step ? null : new MetadataStep(
            $step->int('id'),
            $step->text('label'),
            self::read($step->json('before')),
            self::read($step->json('after')),
        );
    }

    /** @param list<FrameWords> $all */
    private static function written(array $all): string
    {
        return json_encode(
            array_map(static fn (FrameWords $words): array => [
                'id' => $words->frame,
                'says' => (object) $words->says,
                'rating' => $words->rating,
                'keywords' => $words->keywords,
                'verdict' => $words->verdict->value,
                'tabs' => $words->tabs,
                'judged_by' => $words->judgedBy,
            ], $all),
            \JSON_THROW_ON_ERROR | \JSON_UNESCAPED_UNICODE,
        );
    }

    /**
     * @param array<mixed> $all
     *
     * @return list<FrameWords>
     */
    private static function read(array $all): array
    {
        return array_map(static fn (array $frame): FrameWords => new FrameWords(
            \is_int($frame['id'] ?? null) ? $frame['id'] : 0,
            Metadata::fromArray(['texts' => $frame['says'] ?? []])->texts,
            \is_int($frame['rating'] ?? null) ? $frame['rating'] : null,
            new Metadata(),
            self::ids($frame['keywords'] ?? null),
            Verdict::tryFrom(\is_string($frame['verdict'] ?? null) ? $frame['verdict'] : '') ?? Verdict::Open,
            self::ids($frame['tabs'] ?? null), // unsaid by older ones, as is who judged
            \is_string($frame['judged_by'] ?? null) ? $frame['judged_by'] : null,
        ), array_values(array_filter($all, is_array(...))));
    }

    /** @return list<int> */
    private static function ids(mixed $ids): array
    {
        return array_values(array_filter(\is_array($ids) ? $ids : [], is_int(...)));
    }
}
