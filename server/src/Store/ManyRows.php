<?php

declare(strict_types=1);

namespace Velvet\Server\Store;

use Doctrine\DBAL\Connection;
use Doctrine\DBAL\Types\Type;
use Doctrine\ORM\EntityManagerInterface;

/**
 * Stores thousands of new entities in one statement, where Doctrine would send one for each; they are not read back and
 * get no ids.
 */
final readonly class ManyRows
{
    public function __construct(private EntityManagerInterface $entities, private Connection $database)
    {
    }

    /**
     * @template T of object
     *
     * @param class-string<T> $class
     * @param list<T>         $objects
     */
    public function add(string $class, array $objects): void
    {
        if ([] === $objects) {
            return;
        }
        $metadata = $this->entities->getClassMetadata($class);
        $platform = $this->database->getDatabasePlatform();
        $types = $columns = $casts = [];
        foreach ($metadata->fieldMappings as $field => $mapping) {
            if (!$metadata->isIdentifier($field) || !$metadata->usesIdGenerator()) {
                $types[$field] = Type::getType($mapping->type);
                $columns[$field] = $mapping->columnName;
                $casts[$field] = \sprintf(
                    'CAST(r.%s AS %s)',
                    $mapping->columnName,
                    $types[$field]->getSQLDeclaration([], $platform),
                );
            }
        }
        $rows = [];
        foreach ($objects as $object) {
            $row = [];
            foreach ($types as $field => $type) {
                $value = $metadata->getFieldValue($object, $field);
                $value = $value instanceof \BackedEnum ? $value->value : $value;
                $row[$columns[$field]] = \is_bool($value) ? $value : $type->convertToDatabaseValue($value, $platform);
            }
            $rows[] = $row;
        }
        $this->database->executeStatement(
            \sprintf(
                'INSERT INTO %s (%s) SELECT %s FROM jsonb_to_recordset(CAST(:rows AS jsonb)) AS r(%s text)',
                $metadata->getTableName(),
                implode(', ', $columns),
                implode(', ', $casts),
                implode(' text, ', $columns),
            ),
            ['rows' => json_encode($rows, \JSON_THROW_ON_ERROR | \JSON_PRESERVE_ZERO_FRACTION)],
        );
    }
}
