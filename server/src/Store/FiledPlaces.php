<?php

declare(strict_types=1);

namespace Velvet\Server\Store;

use Velvet\Core\Copy\Drives;
use Velvet\Core\Drive\DriveTable;

/**
 * Where the verified copies of a filed file lie: below the shelf's root, and below its twin's where one was verified
 * there.
 */
final readonly class FiledPlaces
{
    /** Columns that {@see of()} wants, beside those of the file: of `filed_file f` and its `shelf s`. */
    public const COLUMNS = <<<'SQL'
        s.root, s.twin_root, s.drives,
        (SELECT coalesce(jsonb_agg(DISTINCT p.root), '[]') FROM filed_copy c JOIN place p ON p.id = c.place_id
            WHERE c.file_id = f.id AND p.root IN (s.root, s.twin_root)) AS copy_roots
        SQL;

    /**
     * @param non-empty-list<string> $roots     all of them, the shelf's first
     * @param list<string>           $connected those whose drives are
     * @param string                 $shelf     the shelf's root
     */
    private function __construct(
        public array $roots,
        public array $connected,
        public string $shelf,
        public Drives $drives,
    ) {
    }

    /** @param Row $file with {@see COLUMNS} */
    public static function of(Row $file, DriveTable $table): self
    {
        $drives = Drives::fromRecord($table, $file->json('drives'));
        $copies = $file->json('copy_roots');
        $roots = array_values(
            array_filter(
                [$file->text('root'), $file->textOrNull('twin_root')],
                static fn (?string $root): bool => \in_array($root, $copies, true),
            ),
        );
        $roots = array_values(array_filter($roots, is_string(...)));

        return new self(
            [] === $roots ? [$file->text('root')] : $roots,
            array_values(array_filter($roots, $drives->has(...))),
            $file->text('root'),
            $drives,
        );
    }

    public function areConnected(): bool
    {
        return \count($this->connected) === \count($this->roots);
    }
}
