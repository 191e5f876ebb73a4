<?php

declare(strict_types=1);

namespace Velvet\Server\Store;

use Doctrine\DBAL\Connection;
use Velvet\Core\Copy\Transfer;

/** The frames of intakes that are not copied. */
final readonly class SkippedFrames
{
    public function __construct(private Connection $database, private EntityRows $entityRows)
    {
    }

    /** @param list<SkippedFrame> $skipped */
    public function add(array $skipped): void
    {
        $this->entityRows->insertAll(SkippedFrame::class, $skipped);
    }

    /** The frame of a file that should equal another one, and does not. */
    public function failed(Transfer $transfer, string $why): void
    {
        $this->database->executeStatement(
            "UPDATE skipped SET state = 'failed', problem = :why WHERE intake_id = :intake AND entry_id = :entry
                AND frame_position = :position",
            ['why' => $why] + self::frame($transfer),
        );
    }

    /** The frame of a file is copied after all. */
    public function forget(Transfer $transfer): void
    {
        $this->database->executeStatement(
            'DELETE FROM skipped WHERE intake_id = :intake AND entry_id = :entry AND frame_position = :position',
            self::frame($transfer),
        );
    }

    /** What failed is compared again: it and its frames are on the list as equal to another one until that is known. */
    public function retry(int $intake): void
    {
        $this->database->executeStatement(
            "UPDATE skipped SET state = 'filed', problem = '' WHERE intake_id = :intake AND state = 'failed'",
            ['intake' => $intake],
        );
        $this->database->executeStatement(<<<'SQL'
            INSERT INTO skipped (intake_id, entry_id, frame_position, path, files, bytes, picture, captured_at, state,
                same_as, problem)
            SELECT intake_id, entry_id, frame_position, min(source), count(*), sum(bytes), min(picture),
                min(captured_at), 'filed', min(target), ''
            FROM transfer WHERE intake_id = :intake AND state = 'failed' AND equals
            GROUP BY intake_id, entry_id, frame_position ON CONFLICT DO NOTHING
            SQL, ['intake' => $intake]);
    }

    /** @return array{intake: int, entry: int, position: int} */
    private static function frame(Transfer $transfer): array
    {
        return [
            'intake' => $transfer->intake(), 'entry' => $transfer->entry(), 'position' => $transfer->position(),
        ];
    }
}
