<?php

declare(strict_types=1);

namespace Velvet\Core\Card;

use Velvet\Core\Drive\FileStamp;

/** One file on a card. Nothing has been read of it yet but its directory entry. */
final readonly class CardFile
{
    /**
     * @param string $path       relative to the card's root, with `/`
     * @param int    $bytes      size in bytes
     * @param int    $modifiedAt the file system's time, in Unix seconds
     * @param string $stamp      text of its {@see FileStamp}; empty where nobody asked
     */
    public function __construct(
        public string $path,
        public FileKind $kind,
        public int $bytes,
        public int $modifiedAt,
        public string $stamp = '',
    ) {
    }

    /** As which it is taken from now on. */
    public function is(FileKind $kind): self
    {
        return new self($this->path, $kind, $this->bytes, $this->modifiedAt, $this->stamp);
    }

    public function name(): string
    {
        $slash = strrpos($this->path, '/');

        return false === $slash ? $this->path : substr($this->path, $slash + 1);
    }

    /** The folder below the card's root, without a trailing slash; empty for the root itself. */
    public function folder(): string
    {
        $slash = strrpos($this->path, '/');

        return false === $slash ? '' : substr($this->path, 0, $slash);
    }

    /** The name up to its last dot. */
    public function stem(): string
    {
        $name = $this->name();
        $dot = strrpos($name, '.');

        return false === $dot || 0 === $dot ? $name : substr($name, 0, $dot);
    }

    /** The extension as written on the card, without its dot. */
    public function extension(): string
    {
        $name = $this->name();
        $dot = strrpos($name, '.');

        return false === $dot || 0 === $dot ? '' : substr($name, $dot + 1);
    }
}
