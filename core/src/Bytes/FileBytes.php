<?php

declare(strict_types=1);

namespace Velvet\Core\Bytes;

/**
 * A file opened for reading at any offset. The first kilobytes are fetched once, since nearly every fact stands there;
 * what lies further in is fetched by pages, as the system reads it from a card anyway, since what a directory points at
 * mostly lies beside it. Counts what it takes from the card.
 */
final class FileBytes
{
    /** Bytes that are fetched when a file is opened. */
    public const HEAD = 32 * 1024;
    private const PAGE = 4096;
    private const MOST_PAGES = 8;

    private string $head = '';
    /** @var array<int, string> the pages fetched last, by their number */
    private array $pages = [];
    private int $bytesRead = 0;
    private ?string $fault = null;

    /** @param resource $handle */
    private function __construct(private $handle, private readonly int $size)
    {
    }

    /** @throws FileUnreadable when the file cannot be opened or its first bytes cannot be read */
    public static function open(string $path): self
    {
        error_clear_last();
        $handle = @fopen($path, 'r');
        $stat = false === $handle ? false : fstat($handle);
        if (false === $handle || false === $stat) {
            throw FileUnreadable::at($path, SystemReason::last());
        }
        stream_set_read_buffer($handle, 0);
        $bytes = new self($handle, $stat['size']);
        $head = @fread($handle, self::HEAD);
        if (false === $head) {
            throw FileUnreadable::at($path, SystemReason::last());
        }
        $bytes->head = $head;
        $bytes->bytesRead = \strlen($head);

        return $bytes;
    }

    /** A file within another one, taken out of it. */
    public static function ofContent(string $content): self
    {
        $handle = fopen('php://memory', 'w+');
        if (false === $handle) {
            throw new \LogicException('There is no memory to open.');
        }
        fwrite($handle, $content);
        $bytes = new self($handle, \strlen($content));
        $bytes->head = substr($content, 0, self::HEAD);

        return $bytes;
    }

    public function size(): int
    {
        return $this->size;
    }

    /** How many bytes were taken from the file so far. */
    public function bytesRead(): int
    {
        return $this->bytesRead;
    }

    /** Why a part of the file could not be read, as the system says it; null where all that was asked for came. */
    public function fault(): ?string
    {
        return $this->fault;
    }

    /** Up to $length bytes from $offset; fewer where the file ends before, none outside of it. */
    public function read(int $offset, int $length): string
    {
        if ($offset < 0 || $length <= 0 || $offset >= $this->size) {
            return '';
        }
        if ($offset + $length <= \strlen($this->head)) {
            return substr($this->head, $offset, $length);
        }
        $page = intdiv($offset, self::PAGE);
        $from = $page * self::PAGE;
        if ($offset + $length > $from + self::PAGE) {
            return $this->fetch($offset, $length);
        }
        if (!isset($this->pages[$page])) {
            if (self::MOST_PAGES === \count($this->pages)) {
                unset($this->pages[array_key_first($this->pages)]);
            }
            $this->pages[$page] = $this->fetch($from, self::PAGE);
        }

        return substr($this->pages[$page], $offset - $from, $length);
    }

    private function fetch(int $offset, int $length): string
    {
        if (0 !== fseek($this->handle, $offset)) {
            return '';
        }
        $data = '';
        $wanted = min($length, $this->size - $offset);
        while (\strlen($data) < $wanted) {
            error_clear_last();
            $part = @fread($this->handle, max(1, $wanted - \strlen($data)));
            if (false === $part || '' === $part) { // a bad sector, or a file that has become shorter
                $this->fault ??= null === error_get_last()
                    ? 'it ends earlier than its folder says'
                    : SystemReason::last();
                break;
            }
            if ('' === $data) {
                $data = $part; // mostly all of it, and not copied once more
            } else {
                $data .= $part;
            }
        }
        $this->bytesRead += \strlen($data);

        return $data;
    }

    public function __destruct()
    {
        if (\is_resource($this->handle)) {
            fclose($this->handle);
        }
    }
}
