<?php

declare(strict_types=1);

namespace Velvet\Core\Filed;

use Velvet\Core\Bytes\Digest;
use Velvet\Core\Bytes\FileBytes;
use Velvet\Core\Bytes\FileUnreadable;
use Velvet\Core\Bytes\RunningDigests;
use Velvet\Core\Bytes\SecondDigest;
use Velvet\Core\Bytes\StructureBroken;
use Velvet\Core\Bytes\SystemReason;
use Velvet\Core\Copy\DriveCache;
use Velvet\Core\Copy\Ground;
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
     * @param non-empty-list<string> $paths    absolute: the file on every drive, all of one content
     * @param Digest                 $old      their content now
     * @param int                    $modifiedAt Unix seconds; the time that the new files get
     * @param array<string, Ground>  $grounds  what each path must stand on, where that is known
     * @param SecondDigest|null      $second   a second digest of the new content, where one is wanted
     *
     * @throws MetadataRefused
     * @throws TransferFailure
     */
    public function prepare(
        PictureFile $kind,
        array $paths,
        Digest $old,
        int $modifiedAt,
        Metadata $metadata,
        History $history,
        string $token,
        array $grounds,
        ?SecondDigest $second = null,
    ): PreparedWriting {
        return $this->made($paths, $old, $modifiedAt, $token, $grounds, $second, static function (\Closure $write, string $made) use ($kind, $paths, $metadata, $history): array {
            try {
                return MetadataCopy::of(
                    $kind,
                    FileBytes::open($paths[0]),
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
     * @param non-empty-list<string> $paths   absolute: where it goes on every drive
     * @param int                    $modifiedAt Unix seconds
     * @param array<string, Ground>  $grounds as for {@see prepare()}
     * @param string|null            $own     the packet that stands in the picture itself
     *
     * @throws TransferFailure
     */
    public function prepareSidecar(
        array $paths,
        int $modifiedAt,
        Metadata $metadata,
        History $history,
        string $token,
        array $grounds,
        ?string $own = null,
    ): PreparedWriting {
        $make = static function (\Closure $write) use ($metadata, $history, $own): array {
            $write(SidecarFile::fresh($metadata, $history, $own));

            return [];
        };

        return $this->made($paths, null, $modifiedAt, $token, $grounds, null, $make);
    }

    /**
     * @param non-empty-list<string>                                 $paths
     * @param array<string, Ground>                                  $grounds
     * @param \Closure(\Closure(string): void, string): list<string> $make  writes the new content; knows the path of
     *     the first new file; gives sentences on what was cut
     *
     * @throws MetadataRefused
     * @throws TransferFailure
     */
    private function made(
        array $paths,
        ?Digest $old,
        int $modifiedAt,
        string $token,
        array $grounds,
        ?SecondDigest $second,
        \Closure $make,
    ): PreparedWriting {
        $parts = [];
        $digests = new RunningDigests($second);
        try {
            foreach ($paths as $path) {
                $parts[] = PartFile::create($path, $token, $grounds[$path] ?? null);
            }
            $notes = $make(static function (string $bytes) use ($parts, $digests): void {
                $digests->update($bytes);
                foreach ($parts as $part) {
                    $part->write($bytes);
                }
            }, $parts[0]->path);
            $new = $digests->finished();
            foreach ($parts as $part) {
                $part->isWhole($modifiedAt);
                $part->sync();
            }
            foreach ($parts as $part) {
                $this->cache->forget($part->path);
                if (!$part->reads($new->content)) {
                    throw VerifyMismatch::at($part->target);
                }
            }

            return new PreparedWriting($parts, $old, $new, $digests->bytes(), $notes);
        } catch (\Throwable $e) {
            array_map(static fn (PartFile $part) => $part->discard(), $parts);
            throw $e;
        }
    }

    /**
     * Gives a copy that still has its old content the new one of another copy, as after a crash between two drives.
     *
     * @param string      $from   absolute: the copy that has the new content
     * @param string      $path   absolute: the one that gets it
     * @param Digest|null $old    null where there is none yet
     * @param Ground|null $ground what it must stand on, where that is known
     *
     * @throws TransferFailure
     */
    public function handOver(
        string $from,
        string $path,
        ?Digest $old,
        Digest $new,
        int $modifiedAt,
        string $token,
        ?Ground $ground,
    ): void {
        $source = @fopen($from, 'r');
        if (false === $source) {
            throw SourceUnreadable::at($from, SystemReason::last());
        }
        $part = PartFile::create($path, $token, $ground);
        try {
            while (!feof($source)) {
                $bytes = fread($source, self::CHUNK);
                if (false === $bytes) {
                    throw SourceUnreadable::at($from, SystemReason::last());
                }
                $part->write($bytes);
            }
            $part->isWhole($modifiedAt);
            $part->sync();
            $this->cache->forget($part->path);
            if (!$part->reads($new)) {
                throw VerifyMismatch::at($path);
            }
            null === $old ? $part->place($new) : $part->replace($old);
        } finally {
            fclose($source);
            $part->discard();
        }
    }
}
