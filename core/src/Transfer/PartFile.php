<?php

declare(strict_types=1);

namespace Velvet\Core\Transfer;

use Velvet\Core\Card\SystemReason;
use Velvet\Core\Duplicate\Digest;

/** A file being written under a temporary name in the folder where it will stay, until it has earned its final name. */
final class PartFile
{
    private const ENDING = '.velvet-part';

    /** @var resource|null */
    private $handle;

    private function __construct(public readonly string $target, public readonly string $path)
    {
    }

    /** @throws DestinationUnwritable */
    public static function create(string $target, string $token): self
    {
        $folder = \dirname($target);
        error_clear_last();
        if (!is_dir($folder) && !@mkdir($folder, 0o777, true) && !is_dir($folder)) {
            throw DestinationUnwritable::folder($folder, SystemReason::last());
        }
        $part = new self($target, $folder.'/.'.$token.self::ENDING);
        @unlink($part->path); // what a crash of this very transfer left behind
        error_clear_last();
        $handle = @fopen($part->path, 'x');
        if (false === $handle) {
            throw DestinationUnwritable::file($target, SystemReason::last());
        }
        stream_set_write_buffer($handle, 0);
        $part->handle = $handle;

        return $part;
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
                throw str_contains($reason, 'no space') || str_contains($reason, 'quota') ? DestinationUnwritable::full($this->target) : DestinationUnwritable::file($this->target, $reason);
            }
        }
    }

    /** Keeps the file's time and makes the drive keep its bytes. */
    public function sync(int $modifiedAt): void
    {
        \assert(null !== $this->handle);
        error_clear_last();
        @touch($this->path, $modifiedAt);
        if (!@fsync($this->handle)) {
            throw DestinationUnwritable::file($this->target, SystemReason::last());
        }
        fclose($this->handle);
        $this->handle = null;
    }

    /** Reads the file back and compares. */
    public function reads(Digest $digest): bool
    {
        try {
            return Digest::ofFile($this->path)->equals($digest);
        } catch (SourceUnreadable $e) {
            throw DestinationUnwritable::file($this->target, $e->getMessage());
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
        error_clear_last();
        if (@link($this->path, $this->target)) {
            @unlink($this->path);
        } elseif (file_exists($this->target) || is_link($this->target)) {
            if (is_link($this->target) || !is_file($this->target) || !Digest::ofFile($this->target)->equals($digest)) {
                throw NameTaken::by($this->target);
            }
        } elseif (!ExclusiveRename::move($this->path, $this->target)) {
            throw DestinationUnwritable::file($this->target, SystemReason::last());
        }
        $folder = @fopen(\dirname($this->target), 'r');
        if (false !== $folder) {
            @fsync($folder);
            fclose($folder);
        }
    }

    /** Removes the temporary file, if it is still there. */
    public function discard(): void
    {
        if (null !== $this->handle) {
            fclose($this->handle);
            $this->handle = null;
        }
        if (file_exists($this->path)) {
            @unlink($this->path);
        }
    }
}
