<?php

declare(strict_types=1);

namespace Velvet\Core\Metadata;

use Velvet\Core\Bytes\ByteRange;
use Velvet\Core\Bytes\FileBytes;
use Velvet\Core\Bytes\StructureBroken;

/** A file made anew from parts of another one and bytes that come between. */
final readonly class Splice
{
    /**
     * @param list<string|ByteRange> $pieces in the order of the new file; ranges are of the old one
     * @param list<string>           $notes  sentences on what could not be written as it was asked for
     */
    public function __construct(public array $pieces, public array $notes = [])
    {
    }

    /** Bytes of the new file. */
    public function bytes(): int
    {
        return array_sum(array_map(
            static fn (string|ByteRange $piece): int => \is_string($piece) ? \strlen($piece) : $piece->length,
            $this->pieces,
        ));
    }

    /** Whether the new file can be made while the old one is read once, from its start to its end. */
    public function isInOrder(): bool
    {
        return ByteRange::areInOrder(
            array_values(array_filter($this->pieces, static fn (string|ByteRange $piece): bool => !\is_string($piece))),
        );
    }

    /** @throws StructureBroken where it does not lie within the file */
    public static function range(FileBytes $bytes, int $offset, int $length): ByteRange
    {
        return ByteRange::within($bytes->size(), $offset, $length)
            ?? throw StructureBroken::because('it ends before its picture does');
    }
}
