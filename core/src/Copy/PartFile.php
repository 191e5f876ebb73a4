<?php

declare(strict_types=1);

namespace Velvet\Core\Copy;

use Velvet\Core\Bytes\Digest;
use Velvet\Core\Bytes\FileUnreadable;
use Velvet\Core\Bytes\SystemReason;

/** A file being written under a temporary name in the folder where it will stay, until it has earned its final name. */
final class PartFile
{
    private const ENDING = '.velvet-part';

    /** @var resource|null */
    private $handle;

    private readonly WriteBack $writeBack;

    private function __construct(public readonly string $target, public readonly string $path)
    {
        $this->writeBack = new WriteBack($path);
    }

    /**
     * @param Ground|null $ground what it must stand on; null where any folder will do
     *
     * @throws DestinationUnwritable
     * @throws DriveGone             when the drive was taken off and the folder is another's now; nothing is left there
     *     then
     * @throws LeadsAway             when a folder of the shelf is a link
     */
    public static function create(string $target, string $token, ?Ground $ground = null): self
    {
        $folder = \dirname($target);
        $ground?->mustHold($folder);
        $made = SyncedFolder::make($folder);
        $part = new self($target, $folder.'/.'.$token.self::ENDING);
        error_clear_last();
        $handle = @fopen($part->path, 'x');
        if (false === $handle && file_exists($part->path)) {
            @unlink($part->path); // what a crash of this very transfer left behind
            $handle = @fopen($part->path, 'x');
        }
        if (false === $handle) {
            throw DestinationUnwritable::file($target, SystemReason::last());
        }
        // asked of the open file itself: between a look at the folder and the opening the drive may have gone
        if (null !== $ground && !$ground->isUnder($handle)) {
            fclose($handle);
            @unlink($part->path);
            array_map(static fn (string $path): bool => @rmdir($path), array_reverse($made));
            throw DriveGone::from($target);
        }
        stream_set_write_buffer($handle, 0);
        $part->handle = $handle;

        return $part;
    }

    /**
     * Removes what transfers that died left in a folder.
     *
     * @param string $token the beginning of their tokens
     */
    public static function sweep(string $folder, string $token): void
    {
        $names = is_dir($folder) ? @scandir($folder) : false;
        foreach (false === $names ? [] : $names as $name) {
            if (str_starts_with($name, '.'.$token) && str_ends_with($name, self::ENDING)) {
                @unlink($folder.'/'.$name);
            }
        }
    }

    /** @throws DestinationUnwritable */
    public function write(string $chunk): void
    {
        \assert(null !== $this->handle);
        error_clear_last();
        for ($done = 0; $done < \strlen($chunk); $done += $count) {
            $count = @fwrite($this->handle, 0 === $done ? $chunk : substr($chunk, $done));
            if (false === $count || 0 === $count) {
                $reason = SystemReason::last();
                throw str_contains($reason, 'no space') || str_contains($reason, 'quota')
                    ? DriveFull::at($this->target)
                    : DestinationUnwritable::file($this->target, $reason);
            }
        }
        $this->writeBack->wrote(\strlen($chunk));
    }

    /** Nothing more is written: the file gets its time, and the drive begins with what it does not have yet. */
    public function finish(int $modifiedAt): void
    {
        @touch($this->path, $modifiedAt);
        $this->writeBack->begin();
    }

    /**
     * Waits until the drive has its bytes.
     *
     * @throws DestinationUnwritable
     */
    public function sync(): void
    {
        \assert(null !== $this->handle);
        error_clear_last();
        if (!@fsync($this->handle)) {
            throw DestinationUnwritable::file($this->target, SystemReason::last());
        }
        fclose($this->handle);
        $this->handle = null;
        $this->writeBack->over();
    }

    /**
     * Reads the file back and compares.
     *
     * @param \Closure(string): void|null $onChunk is given the bytes read since the last call
     */
    public function reads(Digest $digest, ?\Closure $onChunk = null): bool
    {
        try {
            return Digest::ofFile($this->path, $onChunk)->equals($digest);
        } catch (FileUnreadable $e) {
            throw DestinationUnwritable::file($this->target, $e->reason);
        }
    }

    /**
     * Gives the file its final name. `link` refuses a name that exists, as `rename` would not (POSIX); drives without
     * hard links (FAT, exFAT) get the kernel's rename that refuses too.
     *
     * @throws NameTaken             when another content bears the name
     * @throws DestinationUnwritable
     */
    public function place(Digest $digest): void
    {
        $this->takeName($digest);
        SyncedFolder::sync(\dirname($this->target));
    }

    /**
     * As {@see self::place()}; the folder is for the caller to sync.
     *
     * @param bool        $repairs whether a file of another content that bears the name is a damaged copy, which is put
     *                             aside
     * @param Digest|null $ours    what was about to take the name when an earlier attempt was cut off: it gives way
     *
     * @throws NameTaken
     * @throws DestinationUnwritable
     */
    public function takeName(Digest $digest, bool $repairs = false, ?Digest $ours = null): void
    {
        if ($repairs && is_file($this->target) && !is_link($this->target) && !$this->isPlaced($digest)) {
            DamagedCopy::putAside($this->target);
        }
        error_clear_last();
        if (@link($this->path, $this->target)) {
            @unlink($this->path);
        } elseif ($this->isNameTaken()) {
            if (!$this->isPlaced($digest)) {
                $this->takeNameOf($ours);
            }
        } elseif (!ExclusiveRename::move($this->path, $this->target)) {
            throw DestinationUnwritable::file($this->target, SystemReason::last());
        }
    }

    /**
     * @param Digest|null $ours as for {@see self::takeName()}
     *
     * @throws NameTaken when another content bears the name
     */
    public function mustBePlaceable(Digest $digest, ?Digest $ours = null): void
    {
        if ($this->isNameTaken() && !$this->isPlaced($digest) && (null === $ours || !$this->isPlaced($ours))) {
            throw NameTaken::by($this->target);
        }
    }

    /**
     * Takes the place of a file of ours (POSIX `rename`: at every moment the one or the other is whole under the name).
     *
     * @throws NameTaken             when the file there is not the one that was to be replaced
     * @throws DestinationUnwritable
     */
    public function replace(Digest $old): void
    {
        $this->mustReplace($old);
        $this->takePlace();
    }

    /** @throws NameTaken when the file under the name is not the one that is to be replaced */
    public function mustReplace(Digest $old): void
    {
        if (!$this->isPlaced($old)) {
            throw NameTaken::by($this->target);
        }
    }

    /** @throws DestinationUnwritable */
    public function takePlace(): void
    {
        error_clear_last();
        if (!@rename($this->path, $this->target)) {
            throw DestinationUnwritable::file($this->target, SystemReason::last());
        }
        SyncedFolder::sync(\dirname($this->target));
    }

    private function isNameTaken(): bool
    {
        return file_exists($this->target) || is_link($this->target);
    }

    /** What an attempt that was cut off left under the name; the ledger never had it. */
    private function takeNameOf(?Digest $ours): void
    {
        if (null === $ours || !$this->isPlaced($ours)) {
            throw NameTaken::by($this->target);
        }
        error_clear_last();
        if (!@rename($this->path, $this->target)) {
            throw DestinationUnwritable::file($this->target, SystemReason::last());
        }
    }

    private function isPlaced(Digest $digest): bool
    {
        try {
            return is_file($this->target) && !is_link($this->target) && Digest::ofFile($this->target)->equals($digest);
        } catch (FileUnreadable $e) {
            throw DestinationUnwritable::file($this->target, $e->reason);
        }
    }

    /** Removes the temporary file, if it is still there. */
    public function discard(): void
    {
        if (null !== $this->handle) {
            fclose($this->handle);
            $this->handle = null;
        }
        $this->writeBack->over();
        if (file_exists($this->path)) {
            @unlink($this->path);
        }
    }
}
