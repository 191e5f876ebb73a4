<?php

declare(strict_types=1);

namespace Velvet\Server\Http;

use Symfony\Component\HttpFoundation\Request;

/** The JSON object in a request's body, with its members read as what they must be. */
final readonly class Body
{
    /** @param array<mixed> $members */
    private function __construct(private array $members)
    {
    }

    /** @throws BadRequest */
    public static function of(Request $request): self
    {
        try {
            $members = json_decode($request->getContent(), true, 16, \JSON_THROW_ON_ERROR);
        } catch (\JsonException) {
            throw BadRequest::notJson();
        }

        if (!\is_array($members)) {
            throw BadRequest::notJson();
        }

        return WellFormed::isKept($members) ? new self($members) : throw BadRequest::notKept();
    }

    public function has(string $member): bool
    {
        return \array_key_exists($member, $this->members);
    }

    public function part(string $member): self
    {
        return new self($this->object($member));
    }

    /** @return array<mixed> */
    public function object(string $member): array
    {
        $value = $this->members[$member] ?? null;

        return \is_array($value) ? $value : throw BadRequest::member($member, 'an object');
    }

    public function flag(string $member): bool
    {
        $value = $this->members[$member] ?? null;

        return \is_bool($value) ? $value : throw BadRequest::member($member, 'true or false');
    }

    public function intOrNull(string $member): ?int
    {
        return null === ($this->members[$member] ?? null) ? null : $this->int($member);
    }

    public function text(string $member): string
    {
        $value = $this->members[$member] ?? null;

        return \is_string($value) ? $value : throw BadRequest::member($member, 'text');
    }

    public function textOrNull(string $member): ?string
    {
        return null === ($this->members[$member] ?? null) ? null : $this->text($member);
    }

    public function int(string $member): int
    {
        $value = $this->members[$member] ?? null;

        return \is_int($value) ? $value : throw BadRequest::member($member, 'a whole number');
    }

    /** @return list<string> */
    public function texts(string $member): array
    {
        $value = $this->members[$member] ?? null;
        if (!\is_array($value) || [] !== array_filter($value, static fn (mixed $item): bool => !\is_string($item))) {
            throw BadRequest::member($member, 'a list of texts');
        }

        /** @var list<string> */
        return array_values($value);
    }

    /** @return array<string, string> */
    public function textsByName(string $member): array
    {
        $texts = [];
        foreach ($this->object($member) as $name => $text) {
            $texts[(string) $name] = \is_string($text)
                ? $text
                : throw BadRequest::member($member, 'an object of texts');
        }

        return $texts;
    }

    /** @return non-empty-list<int> */
    public function ints(string $member): array
    {
        $value = $this->members[$member] ?? null;
        if (
            !\is_array($value)
            || [] === $value
            || [] !== array_filter($value, static fn (mixed $item): bool => !\is_int($item))
        ) {
            throw BadRequest::member($member, 'a list of whole numbers');
        }

        /** @var non-empty-list<int> */
        return array_values($value);
    }
}
