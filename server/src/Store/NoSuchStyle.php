<?php

declare(strict_types=1);

namespace Velvet\Server\Store;

use Velvet\Server\Refusal;

final class NoSuchStyle extends \RuntimeException implements Refusal
{
    private function __construct(private readonly int $status, string $message)
    {
        parent::__construct($message);
    }

    public function status(): int
    {
        return $this->status;
    }

    /** @param list<string> $known */
    public static function named(string $name, array $known): self
    {
        return new self(404, \sprintf('There is no house style “%s”. There are: %s.', $name, implode(', ', $known)));
    }

    public static function standardStays(string $name): self
    {
        return new self(
            409,
            \sprintf('“%s” is the standard style. Make another the standard first; then it can go.', $name),
        );
    }
}
