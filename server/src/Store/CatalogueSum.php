<?php

declare(strict_types=1);

namespace Velvet\Server\Store;

/** What a catalogue and its copy must have in common. */
final readonly class CatalogueSum
{
    /**
     * @param array<string, int>                                                  $rows   by table
     * @param array{lines: int, whole: bool, broken_at: int|null, lacks: list<int>} $chain  of the ledger
     * @param string                                                              $end    the seal of its last line, 64
     *                                                                                    hexadecimal digits
     * @param list<string>                                                        $schema the migrations it went through
     */
    public function __construct(public array $rows, public array $chain, public string $end, public array $schema)
    {
    }

    public function equals(self $other): bool
    {
        return $this->rows === $other->rows && $this->chain === $other->chain && $this->end === $other->end;
    }
}
