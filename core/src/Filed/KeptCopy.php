<?php

declare(strict_types=1);

namespace Velvet\Core\Filed;

use Velvet\Core\Bytes\Digest;

/** One copy of a filed file as the ledger has it. */
final readonly class KeptCopy
{
    /**
     * @param string       $path        relative to its place
     * @param Content      $content     what it should have now
     * @param Digest       $verified    what was verified there last
     * @param CopyStanding $standing    that it was found in last: whole, missing or changed
     * @param string       $stamp       of the file when it was verified, as {@see \Velvet\Core\Drive\FileStamp::text()}
     * @param string       $fingerprint of the file then, hexadecimal; empty where it could not be read
     * @param Content|null $inTheMaking what is being written into the file
     */
    public function __construct(
        public int $file,
        public int $shelf,
        public string $path,
        public CopyPlace $place,
        public Content $content,
        public Digest $verified,
        public CopyStanding $standing,
        public string $stamp,
        public string $fingerprint,
        public ?Content $inTheMaking,
    ) {
    }

    public function path(): string
    {
        return $this->place->root.'/'.$this->path;
    }

    /** Whether it was verified with another content than the file has now, as while its drive was away. */
    public function isBehind(): bool
    {
        return !$this->verified->equals($this->content->digest);
    }

    /** Whether the ledger has set down something else of the same copy meanwhile. */
    public function isOlderThan(self $now): bool
    {
        return $this->place->id === $now->place->id && (
            !$this->verified->equals($now->verified)
            || !$this->content->digest->equals($now->content->digest)
            || $this->standing !== $now->standing
            || $this->stamp !== $now->stamp
            || $this->path !== $now->path
            || $this->place->drive !== $now->place->drive
            || $this->inTheMaking?->digest->hex !== $now->inTheMaking?->digest->hex
        );
    }
}
