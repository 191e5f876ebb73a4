<?php

declare(strict_types=1);

namespace Velvet\Server\Http;

use Velvet\Server\Refusal;

final class NotThere extends \RuntimeException implements Refusal
{
    public static function card(int $id): self
    {
        return new self(\sprintf('There is no card %d.', $id));
    }

    public static function sheet(int $id): self
    {
        return new self(\sprintf('There is no sheet %d.', $id));
    }

    public static function shelf(int $id): self
    {
        return new self(\sprintf('There is no shelf %d.', $id));
    }

    public static function shoot(int $id): self
    {
        return new self(\sprintf('There is no shoot %d.', $id));
    }

    public static function keyword(int $id): self
    {
        return new self(\sprintf('There is no keyword %d.', $id));
    }

    public static function frame(int $id): self
    {
        return new self(\sprintf('There is no frame %d.', $id));
    }

    public static function tab(int $id): self
    {
        return new self(\sprintf('There is no tab %d.', $id));
    }

    public static function demoCard(string $label): self
    {
        return new self(\sprintf('There is no demo card “%s” here.', $label));
    }

    public function status(): int
    {
        return 404;
    }
}
