<?php

declare(strict_types=1);

namespace Velvet\Core\Filed;

use Velvet\Core\Bytes\Digest;
use Velvet\Core\Bytes\FileBytes;
use Velvet\Core\Bytes\FileUnreadable;
use Velvet\Core\Bytes\RunningDigests;
use Velvet\Core\Bytes\StructureBroken;
use Velvet\Core\Bytes\SystemReason;
use Velvet\Core\Copy\DriveCache;
use Velvet\Core\Copy\PartFile;
use Velvet\Core\Copy\SourceUnreadable;
use Velvet\Core\Copy\TransferFailure;
use Velvet\Core\Copy\VerifyMismatch;
use Velvet\Core\Metadata\History;
use Velvet\Core\Metadata\Metadata;
use Velvet\Core\Metadata\MetadataCopy;
use Velvet\Core\Metadata\MetadataRefused;
use Velvet\Core\Metadata\PictureFile;
use Velvet\Core\Metadata\SidecarFile;

/**
 * Writes metadata into the filed copies of one file: a new file is made beside each, synced, read back from the drive
 * and compared, and its picture shown to be the same; only then does it take the place of the old one. What fails
 * leaves the files as received.
 */
final readonly class FiledWriting
{
    private const CHUNK = 1024 * 1024;

    public function __construct(private DriveCache $cache)
    {
    }

    /**
     * @throws MetadataRefused
     * @throws TransferFailure
     */
    public function prepare(
        PictureFile $kind,
        CopiesToWrite $copies,
        Metadata $metadata,
        History $history,
    ): PreparedWriting {
        return $this->made($copies, static function (\Closure $write, string $made) use (
            $kind,
            $copies,
            $metadata,
            $history,
        ): array {
            try {
                return MetadataCopy::of(
                    $kind,
                    FileBytes::open($copies->paths[0]),
                    $metadata,
                    $history,
                    $write,
                    static fn (): FileBytes => FileBytes::open($made),
                );
            } catch (FileUnreadable|StructureBroken $e) {
                throw MetadataRefused::structure($e->getMessage());
            }
        });
    }

    /**
     * A sidecar where there is none yet.
     *
     * @param string|null $own the packet that stands in the picture itself
     *
     * @throws TransferFailure
     */
    public function prepareSidecar(
        CopiesToWrite $copies,
        Metadata $metadata,
        History $history,
        ?string $own = null,
    ): PreparedWriting {
        return $this->made($copies, static function (\Closure $write) use ($metadata, $history, $own): array {
            $write(SidecarFile::fresh($metadata, $history, $own));

            return [];
        });
    }

    /**
     * @param \Closure(\Closure(string): void, string): list<string> $make writes the new content; knows the path of
     *     the first new file; gives sentences on what was cut
     *
     * @throws MetadataRefused
     * @throws TransferFailure
     */
    private function made(CopiesToWrite $copies, \Closure $make): PreparedWriting
    {
        $parts = [];
        $digests = new RunningDigests($copies->second);
        try {
            foreach ($copies->paths as $path) {
                $parts[] = PartFile::create($path, $copies->token, $copies->grounds[$path] ?? null);
            }
            $notes = $make(static function (string $bytes) use ($parts, $digests): void {
                $digests->update($bytes);
                foreach ($parts as $part) {
                    $part->write($bytes);
                }
            }, $parts[0]->path);
            $new = $digests->finished();
            $this->mustBeKept($parts, $new->content, $copies->modifiedAt);

            return new PreparedWriting($parts, $copies->old, $new, $digests->bytes(), $notes);
        } catch (\Throwable $e) {
            array_map(static fn (PartFile $part) => $part->discard(), $parts);
            throw $e;
        }
    }

    /**
     * Gives copies that still have their old content the new one of another copy, as after a crash between two drives.
     *
     * @param string $from absolute: the copy that has the new content
     *
     * @throws TransferFailure
     */
    public function handOver(string $from, CopiesToWrite $to, Digest $new): void
    {
        foreach ($to->paths as $path) {
            $this->handTo($path, $from, $to, $new);
        }
    }

    /** @throws TransferFailure */
    private function handTo(string $path, string $from, CopiesToWrite $to, Digest $new): void
    {
        $source = @fopen($from, 'r');
        if (false === $source) {
            throw SourceUnreadable::at($from, SystemReason::last());
        }
        $part = PartFile::create($path, $to->token, $to->grounds[$path] ?? null);
        try {
            while (!feof($source)) {
                $bytes = fread($source, self::CHUNK);
                if (false === $bytes) {
                    throw SourceUnreadable::at($from, SystemReason::last());
                }
                $part->write($bytes);
            }
            $this->mustBeKept([$part], $new, $to->modifiedAt);
            null === $to->old ? $part->place($new) : $part->replace($to->old);
        } finally {
            fclose($source);
            $part->discard();
        }
    }

    /**
     * The drives have it, and give it back.
     *
     * @param list<PartFile> $parts
     *
     * @throws TransferFailure
     */
    private function mustBeKept(array $parts, Digest $new, int $modifiedAt): void
    {
        foreach ($parts as $part) {
            $part->finish($modifiedAt);
        }
        foreach ($parts as $part) {
            $part->sync();
        }
        foreach ($parts as $part) {
            $this->cache->forget($part->path);
            if (!$part->reads($new)) {
                throw VerifyMismatch::at($part->target);
            }
        }
    }
}
