<?php

declare(strict_types=1);

namespace Velvet\Core\Transfer;

use Velvet\Core\Card\SystemReason;
use Velvet\Core\Duplicate\Digest;

/**
 * Copies one file to all its destinations at once: the source is read once, hashed while it is read, written to temporary
 * files, synced, read back from the drives, compared, and only then given its final name. No step overwrites anything.
 *
 * Every step may be repeated: a temporary file left by a crash is thrown away, and a final file that already equals the
 * source counts as placed.
 */
final readonly class VerifiedCopy
{
    /** @param int<4096, max> $chunk bytes held in memory at a time */
    public function __construct(private DriveCache $cache, private int $chunk = 1024 * 1024)
    {
    }

    /**
     * @param string                 $source       absolute path on the card
     * @param int                    $bytes        the size the plan counted on
     * @param int                    $modifiedAt   Unix seconds; the copies keep it
     * @param non-empty-list<string> $targets      absolute final paths, one for each destination
     * @param string                 $token        unique among all transfers; names the temporary files
     * @param \Closure(int): void    $onBytes      told of bytes read since the last call
     *
     * @throws TransferFailure when the file is not filed everywhere; nothing half-written is left then
     */
    public function copy(string $source, int $bytes, int $modifiedAt, array $targets, string $token, \Closure $onBytes): Digest
    {
        $parts = [];
        try {
            foreach ($targets as $target) {
                $parts[] = PartFile::create($target, $token);
            }
            $digest = $this->stream($source, $bytes, $parts, $onBytes);
            foreach ($parts as $part) {
                $part->sync($modifiedAt);
            }
            foreach ($parts as $part) {
                $this->cache->forget($part->path);
                if (!$part->reads($digest)) {
                    throw VerifyMismatch::at($part->target);
                }
            }
            foreach ($parts as $part) {
                $part->place($digest);
            }

            return $digest;
        } finally {
            foreach ($parts as $part) {
                $part->discard();
            }
        }
    }

    /**
     * @param list<PartFile>      $parts
     * @param \Closure(int): void $onBytes
     */
    private function stream(string $source, int $bytes, array $parts, \Closure $onBytes): Digest
    {
        error_clear_last();
        $handle = @fopen($source, 'r');
        if (false === $handle) {
            throw SourceUnreadable::at($source, SystemReason::last());
        }
        stream_set_read_buffer($handle, 0);
        $hash = hash_init(Digest::ALGORITHM);
        $found = 0;
        try {
            while (!feof($handle)) {
                $chunk = @fread($handle, $this->chunk);
                if (false === $chunk) {
                    throw SourceUnreadable::at($source, SystemReason::last());
                }
                if ('' === $chunk) {
                    continue;
                }
                hash_update($hash, $chunk);
                foreach ($parts as $part) {
                    $part->write($chunk);
                }
                $found += \strlen($chunk);
                $onBytes(\strlen($chunk));
            }
        } finally {
            fclose($handle);
        }
        if ($found !== $bytes) {
            throw SourceChanged::size($source, $bytes, $found);
        }

        return Digest::fromHex(hash_final($hash));
    }
}
