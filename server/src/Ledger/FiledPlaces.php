<?php

declare(strict_types=1);

namespace Velvet\Server\Ledger;

use Velvet\Core\Transfer\MountPoint;
use Velvet\Server\Row;

/** Where the copies of a filed file lie: below the shelf's root, and below its twin's where the file has one. */
final readonly class FiledPlaces
{
    /**
     * @param non-empty-list<string> $roots     all of them, the shelf's first
     * @param list<string>           $connected those whose drives are
     */
    private function __construct(public array $roots, public array $connected)
    {
    }

    /** @param Row $file of `filed_file`, with `root`, `twin_root` and `mount_points` of its shelf */
    public static function of(Row $file): self
    {
        $roots = [$file->text('root'), ...array_filter([$file->bool('has_twin') ? $file->textOrNull('twin_root') : null], is_string(...))];
        $mountPoints = $file->json('mount_points');

        return new self($roots, array_values(array_filter($roots, static function (string $root) use ($mountPoints): bool {
            $mountPoint = $mountPoints[$root] ?? null;

            return MountPoint::has($root, \is_string($mountPoint) ? $mountPoint : null);
        })));
    }

    public function areConnected(): bool
    {
        return \count($this->connected) === \count($this->roots);
    }
}
