<?php

declare(strict_types=1);

namespace Velvet\Core\Ledger;

/**
 * The seal of an intake's last line, as it leaves the house with receipts and lies beside the pictures. A chain of
 * seals cannot tell that its last lines are missing; one of its seals that is kept elsewhere can.
 */
final readonly class Seal
{
    private const WORDS = 'Velvet Ledger: the last line of intake %d is sealed with SHA-256 %s';

    public function __construct(public int $intake, public string $hex)
    {
    }

    /** One line, as it is laid into a file of its own. */
    public function text(): string
    {
        return \sprintf(self::WORDS, $this->intake, $this->hex)."\n";
    }

    public static function read(string $text): ?self
    {
        $pattern = '/^'.str_replace(['%d', '%s'], ['(\d{1,9})', '([0-9a-f]{64})'], preg_quote(self::WORDS, '/')).'$/';

        return 1 === preg_match($pattern, rtrim($text), $match) ? new self((int) $match[1], $match[2]) : null;
    }
}
