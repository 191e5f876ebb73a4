<?php

declare(strict_types=1);

namespace Velvet\Server\Store;

use Doctrine\DBAL\ArrayParameterType;
use Doctrine\DBAL\Connection;

/** Asks the database and hands out {@see Row}s. */
final readonly class Rows
{
    public function __construct(private Connection $database)
    {
    }

    /**
     * @param array<string, mixed> $parameters lists of integers are bound as such
     *
     * @return list<Row>
     */
    public function all(string $sql, array $parameters = []): array
    {
        return array_map(
            static fn (array $row): Row => new Row($row),
            $this->database->fetchAllAssociative($sql, $parameters, self::types($parameters)),
        );
    }

    /**
     * As {@see self::all()}, one after another: of thousands only one is kept at a time.
     *
     * @param array<string, mixed> $parameters
     *
     * @return iterable<Row>
     */
    public function each(string $sql, array $parameters = []): iterable
    {
        foreach ($this->database->iterateAssociative($sql, $parameters, self::types($parameters)) as $row) {
            yield new Row($row);
        }
    }

    /** @param array<string, mixed> $parameters */
    public function first(string $sql, array $parameters = []): ?Row
    {
        return $this->all($sql, $parameters)[0] ?? null;
    }

    /** @param array<string, mixed> $parameters */
    public function one(string $sql, array $parameters = []): Row
    {
        return $this->first($sql, $parameters)
            ?? throw new \UnexpectedValueException('A row was expected and none came.');
    }

    /**
     * @param array<string, mixed> $parameters
     *
     * @return array<string, ArrayParameterType>
     */
    private static function types(array $parameters): array
    {
        return array_map(
            static fn (): ArrayParameterType => ArrayParameterType::INTEGER,
            array_filter($parameters, is_array(...)),
        );
    }
}
