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
    public function __construct(private EntityManagerInterface $entities, private Connection $database)
    {
    }

    /** @return array<string, mixed> what an entity holds, by column; without an id that the database gives */
    public function values(object $entity): array
    {
        $metadata = $this->entities->getClassMetadata($entity::class);
        $values = [];
        foreach ($metadata->fieldMappings as $field => $mapping) {
            if (!self::isGiven($metadata, $field)) {
                $value = $metadata->getFieldValue($entity, $field);
                $values[$mapping->columnName] = $value instanceof \BackedEnum ? $value->value : $value;
            }
        }
        foreach ($metadata->associationMappings as $field => $association) {
            if ($association->isToOneOwningSide()) {
                $other = $metadata->getFieldValue($entity, $field);
                $values[$association->joinColumns[0]->name] = \is_object($other)
                    ? $this->entities->getUnitOfWork()->getSingleIdentifierValue($other)
                    : null;
            }
        }

        return $values;
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
        if ([] === $objects) {
            return;
        }
        $metadata = $this->entities->getClassMetadata($class);
        $platform = $this->database->getDatabasePlatform();
        $types = array_map(Type::getType(...), $this->types($metadata));
        $rows = [];
        $columns = [];
        foreach ($objects as $object) {
            $row = [];
            foreach ($this->values($object) as $column => $value) {
                $row[$column] = \is_bool($value) ? $value : $types[$column]->convertToDatabaseValue($value, $platform);
            }
            $rows[] = $row;
            $columns = array_keys($row);
        }
        $this->database->executeStatement(
            \sprintf(
                'INSERT INTO %s (%s) SELECT %s FROM jsonb_to_recordset(CAST(:rows AS jsonb)) AS r(%s text)',
                $metadata->getTableName(),
                implode(', ', $columns),
                implode(', ', array_map(static fn (string $column): string => \sprintf(
                    'CAST(r.%s AS %s)',
                    $column,
                    $types[$column]->getSQLDeclaration([], $platform),
                ), $columns)),
                implode(' text, ', $columns),
            ),
            ['rows' => json_encode($rows, \JSON_THROW_ON_ERROR | \JSON_PRESERVE_ZERO_FRACTION)],
        );
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

    /** @param ClassMetadata<object> $metadata */
    private static function isGiven(ClassMetadata $metadata, string $field): bool
    {
        return $metadata->isIdentifier($field) && $metadata->usesIdGenerator();
    }
}
