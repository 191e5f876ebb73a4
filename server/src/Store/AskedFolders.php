<?php

declare(strict_types=1);

namespace Velvet\Server\Store;

use Velvet\Core\Plan\FoldersOnDisk;

/**
 * Folders of shelves as they are on the drives. Which were asked, and what they held, is noted for whoever keeps what
 * came of it.
 */
final class AskedFolders
{
    /** @var array<string, array{list<string>, string, string}> roots, folder and a digest of its names */
    private array $asked = [];

    /**
     * @param list<string> $roots  absolute: of a shelf and its twin
     * @param string       $folder within them
     *
     * @return list<string>
     */
    public function namesIn(array $roots, string $folder): array
    {
        $names = (new FoldersOnDisk($roots))->namesIn($folder);
        $this->asked[implode("\0", [...$roots, $folder])] = [$roots, $folder, self::digest($names)];

        return $names;
    }

    /**
     * @template T
     *
     * @param \Closure(): T $do
     *
     * @return array{T, list<array{list<string>, string, string}>} what it gave, and the answers that it depends on
     */
    public function noting(\Closure $do): array
    {
        $this->asked = [];

        return [$do(), array_values($this->asked)];
    }

    /** @param list<array{list<string>, string, string}> $asked as {@see self::noting()} gave them */
    public static function wouldAnswerTheSame(array $asked): bool
    {
        return array_reduce(
            $asked,
            static fn (bool $same, array $one): bool => $same
                && $one[2] === self::digest((new FoldersOnDisk($one[0]))->namesIn($one[1])),
            true,
        );
    }

    /** @param list<string> $names */
    private static function digest(array $names): string
    {
        return hash('xxh128', implode("\0", $names));
    }
}
