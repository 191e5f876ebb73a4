<?php

declare(strict_types=1);

namespace Velvet\Core\Copy;

use Velvet\Core\Bytes\ByteRange;
use Velvet\Core\Bytes\Digests;
use Velvet\Core\Bytes\FileBytes;
use Velvet\Core\Bytes\FileUnreadable;
use Velvet\Core\Bytes\RunningDigests;
use Velvet\Core\Bytes\StreamedFingerprint;
use Velvet\Core\Bytes\StreamedRanges;
use Velvet\Core\Bytes\StructureBroken;
use Velvet\Core\Bytes\SystemReason;
use Velvet\Core\Drive\FileStamp;
use Velvet\Core\Metadata\MetadataCopy;
use Velvet\Core\Metadata\Splice;
use Velvet\Core\Metadata\StreamedSplice;

/**
 * Copies files to all their destinations at once: each source is read once, hashed while it is read, written to
 * temporary files, synced, read back from the drives, compared, and only then given its final name. No step overwrites
 * anything.
 *
 * Words that are to be in a file are written into it on its way: the digest of what was received is taken before, that
 * of what is written behind; and what is read back must be the latter, with a picture in it, found there anew, that is
 * the received one to the last byte.
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
     * @return Digests of what was read
     *
     * @throws TransferFailure when the file is not filed everywhere; nothing half-written is left then
     */
    public function copy(FileToCopy $file, CopyWatch $watch = new Unwatched()): Digests
    {
        $outcome = $this->copyAll([$file], $watch)[0];

        return $outcome instanceof CopiedFile ? $outcome->received : throw $outcome;
    }

    /**
     * Several files, step by step together, so that a drive is waited for once instead of with each of them. What fails
     * leaves the others alone.
     *
     * @param non-empty-list<FileToCopy> $files
     *
     * @return non-empty-list<CopiedFile|TransferFailure> in their order; nothing half-written is left of what failed
     */
    public function copyAll(array $files, CopyWatch $watch = new Unwatched()): array
    {
        $hand = array_map(static fn (FileToCopy $file): FileInHand => new FileInHand($file), $files);
        try {
            $watch->reading();
            foreach (\count($files) > 1 ? $files : [] as $file) {
                $this->cache->fetch($file->source);
            }
            self::each($hand, function (FileInHand $one) use ($watch): void {
                $watch->file($one->file);
                $one->makeParts();
                $one->copied = $this->stream($one->file, $one->parts, $watch);
                $one->mustBeExpected();
                foreach ($one->parts as $part) {
                    $part->finish($one->file->modifiedAt);
                }
            });
            $read = array_map(static fn (FileInHand $one): ?CopiedFile => $one->copied(), $hand);
            foreach ($watch->verifying($read) as $n) {
                $hand[$n]->fails(TakenOver::file($hand[$n]->file->source));
            }
            self::each($hand, static function (FileInHand $one): void {
                foreach ($one->parts as $part) {
                    $part->sync();
                }
            });
            self::each($hand, function (FileInHand $one): void {
                foreach ($one->parts as $part) {
                    $this->cache->forget($part->path);
                    $this->cache->fetch($part->path);
                }
            });
            self::each($hand, function (FileInHand $one) use ($watch): void {
                $watch->file($one->file);
                foreach ($one->parts as $part) {
                    $this->mustReadBack($part, $one, $watch);
                }
            });
            self::each($hand, static fn (FileInHand $one) => $one->mustBePlaceable());
            $folders = [];
            self::each($hand, static function (FileInHand $one) use (&$folders): void {
                foreach ($one->parts as $part) {
                    $part->takeName($one->digest(), $one->file->repairs, $one->file->cutOff);
                    $folders[\dirname($part->target)] = true;
                }
            });
            array_map(SyncedFolder::sync(...), array_keys($folders));

            return array_map(static fn (FileInHand $one): CopiedFile|TransferFailure => $one->outcome(), $hand);
        } finally {
            array_map(static fn (FileInHand $one) => $one->discard(), $hand);
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

        return $this->stream($file, [], $watch)->received;
    }

    /**
     * @param list<FileInHand>          $hand
     * @param \Closure(FileInHand): void $do
     */
    private static function each(array $hand, \Closure $do): void
    {
        foreach ($hand as $one) {
            if (null !== $one->failure) {
                continue;
            }
            try {
                $do($one);
            } catch (TransferFailure $e) {
                $one->fails($e);
            }
        }
    }

    /** @param list<PartFile> $parts */
    private function stream(FileToCopy $file, array $parts, CopyWatch $watch): CopiedFile
    {
        $before = FileStamp::of($file->source);
        error_clear_last();
        $handle = @fopen($file->source, 'r');
        if (false === $handle || null === $before) {
            throw SourceUnreadable::at($file->source, SystemReason::last());
        }
        try {
            // a card's file is known by more than its size; those that lie on drives of ours by their digest
            if (
                null !== $file->fingerprint
                && $before->bytes === $file->bytes
                && $file->modifiedAt !== (int) $before->modifiedAt
            ) {
                throw SourceChanged::since($file->source);
            }
            $copied = $this->through($file, $handle, $parts, $watch);
        } finally {
            fclose($handle);
        }
        $after = FileStamp::of($file->source);
        if (null === $after) {
            throw SourceUnreadable::at($file->source, SystemReason::last());
        }
        if ($after->text() !== $before->text() || $after->inode !== $before->inode) {
            throw SourceChanged::meanwhile($file->source);
        }

        return $copied;
    }

    /**
     * @param resource       $source
     * @param list<PartFile> $parts
     */
    private function through(FileToCopy $file, $source, array $parts, CopyWatch $watch): CopiedFile
    {
        [$ranges, $splice] = [] === $parts ? [[], null] : self::asked($file);
        $picture = [] === $ranges ? null : StreamedRanges::of($ranges);
        $fingerprint = null === $file->fingerprint ? null : new StreamedFingerprint($file->bytes);
        $digests = new RunningDigests($file->second);
        $streamed = null === $splice ? null : new StreamedSplice($splice);
        $written = new RunningDigests($file->second);
        $writtenPrint = null === $splice ? null : new StreamedFingerprint($splice->bytes());
        stream_set_read_buffer($source, 0);
        while (!feof($source)) {
            $chunk = @fread($source, $this->chunk);
            if (false === $chunk) {
                throw SourceUnreadable::at($file->source, SystemReason::last());
            }
            if ('' === $chunk) {
                continue;
            }
            $digests->update($chunk);
            $fingerprint?->update($chunk);
            $picture?->update($chunk);
            $watch->read(\strlen($chunk));
            if (null !== $streamed) {
                $chunk = $streamed->take($chunk);
                $written->update($chunk);
                $writtenPrint?->update($chunk);
            }
            foreach ($parts as $part) {
                $part->write($chunk);
            }
        }
        if ($digests->bytes() !== $file->bytes) {
            throw SourceChanged::size($file->source, $file->bytes, $digests->bytes());
        }
        if (null !== $file->fingerprint && true !== $fingerprint?->finished()->equals($file->fingerprint)) {
            throw SourceChanged::since($file->source);
        }
        if (null !== $streamed && (!$streamed->isDone() || $written->bytes() !== $splice?->bytes())) {
            throw new \LogicException('A splice that is in order was not made to its end.');
        }

        $proof = $picture?->finished();

        return new CopiedFile(
            $digests->finished(),
            ByteRange::areInOrder($ranges) ? $proof : self::pictureOf($file, $parts),
            null === $splice || null === $writtenPrint || null === $proof ? null : new WrittenFile(
                $written->finished(),
                $splice->bytes(),
                $writtenPrint->finished(),
                $proof,
                $splice->notes,
            ),
        );
    }

    /** @return array{list<ByteRange>, Splice|null} where its picture lies, and what is written into it as it comes */
    private static function asked(FileToCopy $file): array
    {
        if (null === $file->kind) {
            return [[], null];
        }
        $ranges = [];
        try {
            $bytes = FileBytes::open($file->source);
            $ranges = $file->kind->picture($bytes);
            $isProvable = [] !== $ranges && null !== StreamedRanges::of($ranges);
            $splice = null === $file->words || !$isProvable ? null : ($file->words)($bytes);

            return [$ranges, true === $splice?->isInOrder() ? $splice : null];
        } catch (StructureBroken|FileUnreadable) {
            return [$ranges, null]; // it is copied as it is
        }
    }

    /**
     * Of a picture whose parts lie in another order than they are read in: from the copy, which is in memory still.
     *
     * @param list<PartFile> $parts
     */
    private static function pictureOf(FileToCopy $file, array $parts): ?string
    {
        try {
            return null === $file->kind || [] === $parts
                ? null
                : MetadataCopy::pictureDigest($file->kind, FileBytes::open($parts[0]->path));
        } catch (StructureBroken|FileUnreadable) {
            return null;
        }
    }

    /** @throws VerifyMismatch */
    private function mustReadBack(PartFile $part, FileInHand $one, CopyWatch $watch): void
    {
        $kind = null === $one->copied?->written ? null : $one->file->kind;
        try {
            $picture = null === $kind ? null : StreamedRanges::of($kind->picture(FileBytes::open($part->path)));
        } catch (StructureBroken|FileUnreadable) {
            throw VerifyMismatch::at($part->target);
        }
        $isWhole = $part->reads($one->digest(), static function (string $chunk) use ($picture, $watch): void {
            $picture?->update($chunk);
            $watch->checked(\strlen($chunk));
        });
        if (!$isWhole || (null !== $kind && $picture?->finished() !== $one->copied?->written?->proof)) {
            throw VerifyMismatch::at($part->target);
        }
    }
}
