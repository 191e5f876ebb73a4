<?php

declare(strict_types=1);

namespace Velvet\Server\Store;

/** The names that are taken on shelves. */
final readonly class ShelfNames
{
    public function __construct(private Rows $rows, private AskedFolders $folders)
    {
    }

    /**
     * @param list<string> $roots  absolute: of the shelf and its twin
     * @param int|null     $intake whose own names do not count; null: all count
     */
    public function given(array $roots, ?Shelf $shelf, ?int $intake): GivenNames
    {
        return new GivenNames($this->rows, $this->folders, $roots, $shelf?->id(), $intake);
    }
}
