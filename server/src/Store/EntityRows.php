<?php

declare(strict_types=1);

namespace Velvet\Server\Store;

use Doctrine\DBAL\Connection;
use Doctrine\DBAL\Types\Type;
use Doctrine\ORM\EntityManagerInterface;
use Doctrine\ORM\Mapping\ClassMetadata;

/**
 * Writes entities as their mapping says: one statement for a change, or for thousands of new ones. Doctrine's own unit
 * of work takes four within a transaction, two of them savepoints, and looks at all that it manages; an intake changes
 * each of its files many times.
 */
final readonly class EntityRows
{
    private const TOGETHER = 1000;

    /** @var \WeakMap<ClassMetadata<object>, array<string, \Closure(object): mixed>> */
    private \WeakMap $readers;

    public function __construct(private EntityManagerInterface $entities, private Connection $database)
    {
        $this->readers = new \WeakMap();
    }

    /** @return array<string, mixed> what an entity holds, by column; without an id that the database gives */
    public function values(object $entity): array
    {
        $metadata = $this->entities->getClassMetadata($entity::class);
        $values = [];
        foreach ($this->readers[$metadata] ??= $this->readers($metadata) as $column => $read) {
            $value = $read($entity);
            $values[$column] = $value instanceof \BackedEnum ? $value->value : $value;
        }

        return $values;
    }

    /**
     * @param ClassMetadata<object> $metadata
     *
     * @return array<string, \Closure(object): mixed> by column; without an id that the database gives
     */
    private function readers(ClassMetadata $metadata): array
    {
        $readers = [];
        foreach ($metadata->fieldMappings as $field => $mapping) {
            if (!$metadata->isIdentifier($field) || !$metadata->usesIdGenerator()) {
                $readers[$mapping->columnName] = self::reader($metadata, $field, null !== $mapping->declaredField);
            }
        }
        $work = $this->entities->getUnitOfWork();
        foreach ($metadata->associationMappings as $field => $association) {
            if ($association->isToOneOwningSide()) {
                $other = self::reader($metadata, $field, false);
                $readers[$association->joinColumns[0]->name] = static function (object $of) use ($other, $work): mixed {
                    $entity = $other($of);

                    return \is_object($entity) ? $work->getSingleIdentifierValue($entity) : null;
                };
            }
        }

        return $readers;
    }

    /**
     * Doctrine's accessor of a property turns the whole entity into an array for each value: it is used for those
     * within an embedded object only.
     *
     * @param ClassMetadata<object> $metadata
     *
     * @return \Closure(object): mixed
     */
    private static function reader(ClassMetadata $metadata, string $field, bool $isEmbedded): \Closure
    {
        $accessor = $metadata->getPropertyAccessor($field) ?? throw new \LogicException("There is no $field.");

        return $isEmbedded ? $accessor->getValue(...) : $accessor->getUnderlyingReflector()->getValue(...);
    }

    /** Stores a new entity, which gets its id. */
    public function insert(object $entity): void
    {
        $metadata = $this->entities->getClassMetadata($entity::class);
        $values = $this->values($entity);
        $id = $this->database->fetchOne(
            \sprintf(
                'INSERT INTO %s (%s) VALUES (:%s) RETURNING %s',
                $metadata->getTableName(),
                implode(', ', array_keys($values)),
                implode(', :', array_keys($values)),
                $metadata->getSingleIdentifierColumnName(),
            ),
            $values,
            $this->types($metadata),
        );
        $metadata->setIdentifierValues($entity, [$metadata->getSingleIdentifierFieldName() => $id]);
    }

    /**
     * Keeps what changed of an entity.
     *
     * @param array<string, mixed> $before {@see self::values()} as they are kept
     * @param array<string, mixed> $while  what else its row must hold, by column
     *
     * @return bool whether its row held that; true where nothing changed
     */
    public function update(object $entity, array $before, array $while = []): bool
    {
        $changed = array_filter(
            $this->values($entity),
            static fn (mixed $value, string $column): bool => $value !== $before[$column],
            \ARRAY_FILTER_USE_BOTH,
        );
        if ([] === $changed) {
            return true;
        }
        $metadata = $this->entities->getClassMetadata($entity::class);
        $id = $metadata->getIdentifierValues($entity)[$metadata->getSingleIdentifierFieldName()];

        return 1 === $this->database->update(
            $metadata->getTableName(),
            $changed,
            [$metadata->getSingleIdentifierColumnName() => $id] + $while,
            $this->types($metadata),
        );
    }

    /**
     * Stores new entities by the thousand. They are not read back and get no ids.
     *
     * @template T of object
     *
     * @param class-string<T> $class
     * @param list<T>         $objects
     */
    public function insertAll(string $class, array $objects): void
    {
        foreach (array_chunk($objects, self::TOGETHER) as $some) {
            $this->insertRows($class, array_map($this->values(...), $some));
        }
    }

    /**
     * As {@see self::insertAll()}, and each of them gets its id.
     *
     * @template T of object
     *
     * @param class-string<T> $class
     * @param list<T>         $objects
     */
    public function insertAllWithIds(string $class, array $objects): void
    {
        $metadata = $this->entities->getClassMetadata($class);
        [$field, $column] = [$metadata->getSingleIdentifierFieldName(), $metadata->getSingleIdentifierColumnName()];
        $ids = $this->database->fetchFirstColumn(
            'SELECT nextval(pg_get_serial_sequence(:table, :column)) FROM generate_series(1, :many)',
            ['table' => $metadata->getTableName(), 'column' => $column, 'many' => \count($objects)],
        );
        $rows = [];
        foreach ($objects as $i => $object) {
            $metadata->setIdentifierValues($object, [$field => $ids[$i]]);
            $rows[] = [$column => $ids[$i]] + $this->values($object);
        }
        $this->insertRows($class, $rows);
    }

    /**
     * Keeps what changed of many entities of one class.
     *
     * @template T of object
     *
     * @param class-string<T>      $class
     * @param list<array{T, T}>    $changes each as it is now, and as it is kept
     * @param array<string, string> $while  what else their rows must hold, by column
     *
     * @return list<int> ids of those whose rows held that
     */
    public function updateAll(string $class, array $changes, array $while = []): array
    {
        $metadata = $this->entities->getClassMetadata($class);
        [$id, $types] = [$metadata->getSingleIdentifierColumnName(), $this->types($metadata)];
        $columns = $rows = [];
        foreach ($changes as [$now, $before]) {
            [$new, $old] = [$this->values($now), $this->values($before)];
            foreach ($new as $column => $value) {
                $columns += $value === $old[$column] ? [] : [$column => true];
            }
            $rows[] = [$id => $metadata->getIdentifierValues($now)[$metadata->getSingleIdentifierFieldName()]] + $new;
        }
        if ([] === $columns) {
            return array_values(array_filter(array_column($rows, $id), is_int(...)));
        }
        $columns = array_keys($columns);
        $kept = [$id, ...$columns];
        $updated = $this->database->fetchFirstColumn(
            \sprintf(
                'UPDATE %s AS t SET %s FROM jsonb_to_recordset(CAST(:rows AS jsonb)) AS r(%s text)
                    WHERE t.%s = %s%s RETURNING t.%4$s',
                $metadata->getTableName(),
                implode(', ', array_map(
                    fn (string $column): string => $column.' = '.$this->cast($column, $types[$column]),
                    $columns,
                )),
                implode(' text, ', $kept),
                $id,
                $this->cast($id, $types[$id]),
                implode('', array_map(
                    static fn (string $column): string => " AND t.$column = :$column",
                    array_keys($while),
                )),
            ),
            ['rows' => $this->json(
                array_map(static fn (array $row): array => array_intersect_key($row, array_flip($kept)), $rows),
                $types,
            )] + $while,
        );

        return array_values(array_filter($updated, is_int(...)));
    }

    /**
     * @template T of object
     *
     * @param class-string<T>            $class
     * @param list<array<string, mixed>> $rows  values by column
     */
    private function insertRows(string $class, array $rows): void
    {
        if ([] === $rows) {
            return;
        }
        $metadata = $this->entities->getClassMetadata($class);
        $types = $this->types($metadata);
        $columns = array_keys($rows[0]);
        $this->database->executeStatement(
            \sprintf(
                'INSERT INTO %s (%s) SELECT %s FROM jsonb_to_recordset(CAST(:rows AS jsonb)) AS r(%s text)',
                $metadata->getTableName(),
                implode(', ', $columns),
                implode(', ', array_map(
                    fn (string $column): string => $this->cast($column, $types[$column]),
                    $columns,
                )),
                implode(' text, ', $columns),
            ),
            ['rows' => $this->json($rows, $types)],
        );
    }

    /** A column of rows that were sent as JSON. */
    private function cast(string $column, string $type): string
    {
        return \sprintf(
            'CAST(r.%s AS %s)',
            $column,
            Type::getType($type)->getSQLDeclaration([], $this->database->getDatabasePlatform()),
        );
    }

    /**
     * @param list<array<string, mixed>> $rows  values by column
     * @param array<string, string>      $types names of Doctrine's types, by column
     */
    private function json(array $rows, array $types): string
    {
        $platform = $this->database->getDatabasePlatform();
        $types = array_map(Type::getType(...), $types);
        foreach ($rows as &$row) {
            foreach ($row as $column => $value) {
                $row[$column] = \is_bool($value) ? $value : $types[$column]->convertToDatabaseValue($value, $platform);
            }
        }

        return json_encode($rows, \JSON_THROW_ON_ERROR | \JSON_PRESERVE_ZERO_FRACTION);
    }

    /**
     * @param ClassMetadata<object> $metadata
     *
     * @return array<string, string> names of Doctrine's types, by column
     */
    private function types(ClassMetadata $metadata): array
    {
        $types = [];
        foreach ($metadata->fieldMappings as $mapping) {
            $types[$mapping->columnName] = $mapping->type;
        }
        foreach ($metadata->associationMappings as $association) {
            if ($association->isToOneOwningSide()) {
                $types[$association->joinColumns[0]->name] = 'integer';
            }
        }

        return $types;
    }
}
