<?php

declare(strict_types=1);

namespace Velvet\Core\Filed;

use Velvet\Core\Bytes\Digest;
use Velvet\Core\Bytes\FileUnreadable;
use Velvet\Core\Bytes\Fingerprint;

/**
 * Whether a file on a card is filed already. The fingerprint finds candidates; only an equal digest of the whole
 * content proves it, so nothing is skipped on a guess.
 */
final readonly class FiledBefore
{
    public function __construct(private FiledIndex $index)
    {
    }

    /**
     * The filed copy of each of a frame's files; null for those that are not filed.
     *
     * @param array<string, Fingerprint|null> $files fingerprints by absolute path
     *
     * @return list<FiledCopy|null> in the same order
     */
    public function files(array $files): array
    {
        $copies = [];
        foreach ($files as $path => $fingerprint) {
            $copies[] = null === $fingerprint ? null : $this->find($path, $fingerprint);
        }

        return $copies;
    }

    /**
     * The filed copy with the same content; null where there is none or the file cannot be read.
     *
     * @param string $path absolute
     */
    public function find(string $path, Fingerprint $fingerprint): ?FiledCopy
    {
        $candidates = array_values(
            array_filter(
                $this->index->like($fingerprint),
                static fn (FiledCopy $copy): bool => $copy->isThere() || $copy->needsRepair(),
            ),
        );
        if ([] === $candidates) {
            return null;
        }
        try {
            $digest = Digest::ofFile($path);
        } catch (FileUnreadable) {
            return null;
        }
        foreach ($candidates as $candidate) {
            if ($candidate->digest->equals($digest)) {
                return $candidate;
            }
        }

        return null;
    }
}
