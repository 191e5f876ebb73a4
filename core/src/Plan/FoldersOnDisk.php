<?php

declare(strict_types=1);

namespace Velvet\Core\Plan;

/** The folders of a shelf and its twin, as they are on the drives now: a name is taken if either has it. */
final readonly class FoldersOnDisk implements ShelfFolders
{
    /** @param list<string> $roots absolute paths of the shelf and its twin */
    public function __construct(private array $roots)
    {
    }

    public function namesIn(string $folder): array
    {
        $names = [];
        foreach ($this->roots as $root) {
            $path = $root.'/'.$folder;
            $found = is_dir($path) ? @scandir($path) : false;
            foreach (false === $found ? [] : $found as $name) {
                if ('.' !== $name[0]) {
                    $names[$name] = true;
                }
            }
        }

        return array_map(strval(...), array_keys($names));
    }
}
