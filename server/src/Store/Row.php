<?php

declare(strict_types=1);

namespace Velvet\Server\Store;

/**
 * A row from the database with its columns read as what they are. A column that is something else is a programming
 * error.
 */
final readonly class Row
{
    /** @param array<string, mixed> $columns */
    public function __construct(private array $columns)
    {
    }

    public function equals(self $other): bool
    {
        return $this->columns === $other->columns;
    }

    public function int(string $column): int
    {
        $value = $this->columns[$column];

        return \is_int($value)
            ? $value
            : (is_numeric($value) ? (int) $value : throw $this->unexpected($column, 'an integer'));
    }

    public function text(string $column): string
    {
        $value = $this->columns[$column];

        return \is_string($value) ? $value : throw $this->unexpected($column, 'text');
    }

    public function textOrNull(string $column): ?string
    {
        return null === $this->columns[$column] ? null : $this->text($column);
    }

    public function intOrNull(string $column): ?int
    {
        return null === $this->columns[$column] ? null : $this->int($column);
    }

    public function float(string $column): float
    {
        $value = $this->columns[$column];

        return is_numeric($value) ? (float) $value : throw $this->unexpected($column, 'a number');
    }

    public function floatOrNull(string $column): ?float
    {
        return null === $this->columns[$column] ? null : $this->float($column);
    }

    public function bool(string $column): bool
    {
        $value = $this->columns[$column];

        return \is_bool($value) ? $value : throw $this->unexpected($column, 'a truth value');
    }

    /** @return array<mixed> */
    public function json(string $column): array
    {
        $value = json_decode($this->text($column), true, 64, \JSON_THROW_ON_ERROR);

        return \is_array($value) ? $value : throw $this->unexpected($column, 'a JSON array or object');
    }

    /** @return list<int> of a JSON array; none where the column is null */
    public function ints(string $column): array
    {
        $values = null === $this->columns[$column] ? [] : $this->json($column);
        $ints = array_values(array_filter($values, is_int(...)));

        return \count($ints) === \count($values) ? $ints : throw $this->unexpected($column, 'a JSON array of integers');
    }

    private function unexpected(string $column, string $what): \UnexpectedValueException
    {
        return new \UnexpectedValueException(
            \sprintf('Column %s should be %s, but is %s.', $column, $what, get_debug_type($this->columns[$column])),
        );
    }
}
