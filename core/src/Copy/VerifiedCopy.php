<?php

declare(strict_types=1);

namespace Velvet\Core\Copy;

use Velvet\Core\Bytes\Digest;
use Velvet\Core\Bytes\Digests;
use Velvet\Core\Bytes\RunningDigests;
use Velvet\Core\Bytes\StreamedFingerprint;
use Velvet\Core\Bytes\SystemReason;
use Velvet\Core\Drive\FileStamp;

/**
 * Copies one file to all its destinations at once: the source is read once, hashed while it is read, written to
 * temporary files, synced, read back from the drives, compared, and only then given its final name. No step overwrites
 * anything.
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

    /** @throws TransferFailure when the file is not filed everywhere; nothing half-written is left then */
    public function copy(FileToCopy $file, CopyWatch $watch = new Unwatched()): Digests
    {
        $parts = [];
        try {
            $watch->reading();
            foreach ($file->targets as $target) {
                $parts[] = PartFile::create($target, $file->token, $file->grounds[$target] ?? null);
            }
            $digests = $this->stream($file, $parts, $watch);
            if (null !== $file->expected && !$file->expected->equals($digests->content)) {
                throw SourceChanged::content($file->source);
            }
            $watch->verifying();
            foreach ($parts as $part) {
                $part->sync($file->modifiedAt);
            }
            foreach ($parts as $part) {
                $this->cache->forget($part->path);
                if (!$part->reads($digests->content, $watch->checked(...))) {
                    throw VerifyMismatch::at($part->target);
                }
            }
            foreach ($file->repairs ? [] : $parts as $part) {
                $part->mustBePlaceable($digests->content); // all of them, before the first one is
            }
            foreach ($parts as $part) {
                $part->place($digests->content, $file->repairs);
            }

            return $digests;
        } finally {
            foreach ($parts as $part) {
                $part->discard();
            }
        }
    }

    /**
     * Reads a file that should equal one that is filed, and hashes it; nothing is written.
     *
     * @throws TransferFailure
     */
    public function digests(FileToCopy $file, CopyWatch $watch = new Unwatched()): Digests
    {
        $watch->reading();

        return $this->stream($file, [], $watch);
    }

    /** @param list<PartFile> $parts */
    private function stream(FileToCopy $file, array $parts, CopyWatch $watch): Digests
    {
        $before = FileStamp::of($file->source);
        error_clear_last();
        $handle = @fopen($file->source, 'r');
        if (false === $handle || null === $before) {
            throw SourceUnreadable::at($file->source, SystemReason::last());
        }
        // a card's file is known by more than its size; those that lie on drives of ours by their digest
        if (
            null !== $file->fingerprint
            && $before->bytes === $file->bytes
            && $file->modifiedAt !== (int) $before->modifiedAt
        ) {
            fclose($handle);
            throw SourceChanged::since($file->source);
        }
        $fingerprint = null === $file->fingerprint ? null : new StreamedFingerprint($file->bytes);
        stream_set_read_buffer($handle, 0);
        $digests = new RunningDigests($file->second);
        try {
            while (!feof($handle)) {
                $chunk = @fread($handle, $this->chunk);
                if (false === $chunk) {
                    throw SourceUnreadable::at($file->source, SystemReason::last());
                }
                if ('' === $chunk) {
                    continue;
                }
                $digests->update($chunk);
                $fingerprint?->update($chunk);
                foreach ($parts as $part) {
                    $part->write($chunk);
                }
                $watch->read(\strlen($chunk));
            }
        } finally {
            fclose($handle);
        }
        if ($digests->bytes() !== $file->bytes) {
            throw SourceChanged::size($file->source, $file->bytes, $digests->bytes());
        }
        if (null !== $file->fingerprint && true !== $fingerprint?->finished()->equals($file->fingerprint)) {
            throw SourceChanged::since($file->source);
        }
        $after = FileStamp::of($file->source);
        if (null === $after) {
            throw SourceUnreadable::at($file->source, SystemReason::last());
        }
        if ($after->text() !== $before->text() || $after->inode !== $before->inode) {
            throw SourceChanged::meanwhile($file->source);
        }

        return $digests->finished();
    }
}
