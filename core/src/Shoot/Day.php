<?php

declare(strict_types=1);

namespace Velvet\Core\Shoot;

/** A day of the calendar, as the photographer counts days: it has no hours and no time zone. */
final readonly class Day implements \JsonSerializable
{
    private function __construct(private string $text)
    {
    }

    /**
     * @param string $text `YYYY-MM-DD` (ISO 8601-1, 5.2.2.1)
     *
     * @throws \ValueError where there is no such day
     */
    public static function fromText(string $text): self
    {
        if (
            1 !== preg_match('/^(\d{4})-(\d\d)-(\d\d)$/', $text, $part)
            || !checkdate((int) $part[2], (int) $part[3], (int) $part[1])
        ) {
            throw new \ValueError(\sprintf('“%s” is no day.', $text));
        }

        return new self($text);
    }

    public static function areSame(?self $one, ?self $other): bool
    {
        return $one?->text === $other?->text;
    }

    public function before(): self
    {
        $time = new \DateTimeImmutable($this->text, new \DateTimeZone('UTC'));

        return new self($time->modify('-1 day')->format('Y-m-d'));
    }

    public function isBefore(self $other): bool
    {
        return $this->text < $other->text;
    }

    /** Four digits. */
    public function year(): string
    {
        return substr($this->text, 0, 4);
    }

    /** `YYYY-MM-DD` */
    public function text(): string
    {
        return $this->text;
    }

    public function jsonSerialize(): string
    {
        return $this->text;
    }
}
