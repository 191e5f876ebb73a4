<?php

declare(strict_types=1);

namespace Velvet\Core\Ledger;

use Velvet\Core\Bytes\SecondDigest;

/**
 * A list of checksums that ordinary programs check: a digest, two blanks and a path on each line, the format that
 * `xxh128sum -c`, `sha256sum -c` and `b2sum -c` read (common practice of the GNU coreutils and xxHash programs).
 */
final class ChecksumList
{
    /**
     * @param iterable<ReceiptLine> $lines files that are not filed are passed over
     * @param SecondDigest|null     $kind  null: XXH128
     * @param string                $below the folder that paths are relative to, itself relative to the shelf; empty
     *                                     for the shelf
     */
    public static function of(iterable $lines, ?SecondDigest $kind = null, string $below = ''): string
    {
        $prefix = '' === $below ? '' : $below.'/';
        $list = [];
        foreach ($lines as $line) {
            $digest = null === $kind
                ? $line->digests?->content->hex
                : ($kind === $line->digests?->kind ? $line->digests->second : null);
            if (
                'filed' === $line->state
                && null !== $line->path
                && null !== $digest
                && str_starts_with($line->path, $prefix)
            ) {
                $list[$line->path] = $digest.'  '.substr($line->path, \strlen($prefix))."\n";
            }
        }
        ksort($list, \SORT_STRING);

        return implode('', $list);
    }
}
