<?php

declare(strict_types=1);

namespace Velvet\Server\Work\Pictures;

/** What a drawing process made of an order. */
final readonly class Drawing
{
    /** Bytes of a drawn picture, or of its grey, at the most: twice what one of 150 megapixels takes, as a rule. */
    private const MOST = 100_000_000;

    /**
     * @param string $jpeg    empty where none was wanted
     * @param string $grey    one byte a pixel, row by row; empty where none was wanted
     * @param int    $width   pixels of a row of grey
     * @param string $refused why there is none of both, empty where there is
     */
    public function __construct(
        public string $jpeg,
        public string $grey,
        public int $width,
        public string $refused = '',
    ) {
    }

    public static function refused(string $reason): self
    {
        return new self('', '', 0, $reason);
    }

    /** @param resource $stream */
    public function write($stream): void
    {
        Message::write($stream, [$this->jpeg, $this->grey, pack('V', $this->width), $this->refused]);
    }

    /**
     * @param resource $stream
     *
     * @return self|null null where the process ended before it was done, or sends nothing of use
     */
    public static function read($stream): ?self
    {
        [$jpeg, $grey, $width, $refused] = Message::read($stream, 4, self::MOST) ?? ['', '', '', ''];
        $width = 4 === \strlen($width) ? unpack('V', $width)[1] ?? null : null;
        if (!\is_int($width) || ('' !== $grey && (0 === $width || 0 !== \strlen($grey) % $width))) {
            return null;
        }

        return new self($jpeg, $grey, $width, mb_scrub($refused, 'UTF-8'));
    }
}
