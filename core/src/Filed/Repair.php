<?php

declare(strict_types=1);

namespace Velvet\Core\Filed;

/**
 * A filed file that lacks a whole copy gets it again from its card. A copy that holds what was written into it since is
 * no damaged one: the others get that from it when they are there again.
 */
final class Repair
{
    /**
     * Where a file is written to.
     *
     * @param list<string> $connected roots of its shelf and twin whose drives are: what cannot be reached is not
     *                                repaired
     *
     * @return list<string> none where no drive can be reached
     */
    public static function roots(FiledFile $file, array $connected): array
    {
        $now = $file->changed()?->digest;
        $damaged = null === $now ? [] : array_values(array_filter(
            $connected,
            static fn (string $root): bool => !$now->isOfFile($root.'/'.$file->path()),
        ));

        return [] === $damaged ? $connected : $damaged;
    }

    /**
     * A file is verified again as it was received.
     *
     * @param bool $everywhere whether in all of its places
     * @param int  $modifiedAt Unix seconds; of the file on the card
     */
    public static function done(FiledFile $file, bool $everywhere, int $modifiedAt, \DateTimeImmutable $at): void
    {
        $everywhere || null === $file->changed() ? $file->repaired($modifiedAt, $at) : $file->repairedInPart($at);
    }
}
