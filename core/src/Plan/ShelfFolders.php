<?php

declare(strict_types=1);

namespace Velvet\Core\Plan;

/** What already lies in the folders of a shelf. */
interface ShelfFolders
{
    /**
     * @param string $folder relative to the shelf
     *
     * @return list<string> file names; none where the folder is not there
     */
    public function namesIn(string $folder): array;
}
