<?php

declare(strict_types=1);

namespace Velvet\Server\Store;

/** The frames of filed files, and what is said of them. */
final readonly class FiledFrames
{
    public function __construct(private Rows $rows)
    {
    }

    /** Whether anything is said of a frame, so that its files must say it. */
    public function says(int $frame): bool
    {
        return $this->rows->one(<<<'SQL'
            SELECT r.says <> '{}' OR r.rating IS NOT NULL
                OR EXISTS (SELECT FROM frame_keyword k WHERE k.frame_id = r.id) AS it
            FROM filed_frame r WHERE r.id = :frame
            SQL, ['frame' => $frame])->bool('it');
    }
}
