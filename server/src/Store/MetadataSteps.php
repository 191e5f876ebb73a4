<?php

declare(strict_types=1);

namespace Velvet\Server\Store;

use Doctrine\DBAL\Connection;
use Velvet\Core\Filed\FrameWords;
use Velvet\Core\Metadata\Metadata;

/** The latest changes of what the frames of a shoot say. */
final readonly class MetadataSteps
{
    private const MOST = 50;

    public function __construct(private Connection $database, private Rows $rows)
    {
    }

    /** What the last one is called; null where there is none. */
    public function label(int $shoot): ?string
    {
        return $this->rows->first(
            'SELECT label FROM metadata_step WHERE shoot_id = :shoot ORDER BY id DESC LIMIT 1',
            ['shoot' => $shoot],
        )?->text('label');
    }

    public function last(int $shoot): ?MetadataStep
    {
        $step = $this->rows->first(
            'SELECT id, label, before FROM metadata_step WHERE shoot_id = :shoot ORDER BY id DESC LIMIT 1',
            ['shoot' => $shoot],
        );

        return null === $step ? null : new MetadataStep(
            $step->int('id'),
            $step->text('label'),
            array_map(self::read(...), array_values(array_filter($step->json('before'), is_array(...)))),
        );
    }

    /** @param list<FrameWords> $before */
    public function add(int $shoot, string $label, array $before): void
    {
        $this->database->executeStatement(
            'DELETE FROM metadata_step WHERE shoot_id = :shoot AND id <= (SELECT id FROM metadata_step
                WHERE shoot_id = :shoot ORDER BY id DESC OFFSET :most LIMIT 1)',
            ['shoot' => $shoot, 'most' => self::MOST - 1],
        );
        $this->database->executeStatement(
            'INSERT INTO metadata_step (shoot_id, label, before) VALUES (:shoot, :label, CAST(:before AS jsonb))',
            ['shoot' => $shoot, 'label' => $label, 'before' => json_encode(
                array_map(static fn (FrameWords $words): array => [
                    'id' => $words->frame,
                    'says' => (object) $words->says,
                    'rating' => $words->rating,
                    'keywords' => $words->keywords,
                ], $before),
                \JSON_THROW_ON_ERROR | \JSON_UNESCAPED_UNICODE,
            )],
        );
    }

    public function remove(MetadataStep $step): void
    {
        $this->database->executeStatement('DELETE FROM metadata_step WHERE id = :id', ['id' => $step->id]);
    }

    /** @param array<mixed> $frame */
    private static function read(array $frame): FrameWords
    {
        return new FrameWords(
            \is_int($frame['id'] ?? null) ? $frame['id'] : 0,
            Metadata::fromArray(['texts' => $frame['says'] ?? []])->texts,
            \is_int($frame['rating'] ?? null) ? $frame['rating'] : null,
            new Metadata(),
            array_values(array_filter(\is_array($frame['keywords'] ?? null) ? $frame['keywords'] : [], is_int(...))),
        );
    }
}
