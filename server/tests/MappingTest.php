<?php

declare(strict_types=1);

namespace Velvet\Server\Tests;

use Doctrine\DBAL\Types\Type;
use Doctrine\ORM\Mapping\ClassMetadata;
use Doctrine\ORM\Tools\SchemaValidator;

/** What Doctrine is told of the tables is what the migrations made of them. */
final class MappingTest extends ServerTestCase
{
    public function testEveryMappingIsInItselfRight(): void
    {
        self::assertSame([], (new SchemaValidator($this->entities()))->validateMapping());
    }

    public function testEveryMappedColumnIsThereAndEmptyOnlyWhereItMayBe(): void
    {
        $wrong = [];
        $mapped = 0;
        foreach ($this->entities()->getMetadataFactory()->getAllMetadata() as $class) {
            if (!$class->isEmbeddedClass) {
                $columns = $this->columns($class->getTableName());
                foreach (self::mapped($class) as $column => [$nullable, $type]) {
                    ++$mapped;
                    $found = $columns[$column] ?? null;
                    if ($found !== [$nullable, $type]) {
                        $wrong[] = \sprintf(
                            '%s.%s: %s',
                            $class->getTableName(),
                            $column,
                            json_encode(['mapped' => [$nullable, $type], 'there' => $found], \JSON_THROW_ON_ERROR),
                        );
                    }
                }
            }
        }
        self::assertSame([], $wrong);
        self::assertGreaterThan(100, $mapped);
    }

    /**
     * @param ClassMetadata<object> $class
     *
     * @return array<string, array{bool, string}> whether it may be empty and its type, by column
     */
    private static function mapped(ClassMetadata $class): array
    {
        $columns = [];
        foreach ($class->fieldMappings as $mapping) {
            $type = Type::getTypeRegistry()->lookupName(Type::getType($mapping->type));
            $columns[$mapping->columnName] = [
                true === $mapping->nullable,
                match ($type) {
                    'datetimetz_immutable' => 'timestamp with time zone',
                    'moment' => 'timestamp without time zone',
                    'day' => 'date',
                    'digest' => 'character',
                    'json', 'json_object' => 'jsonb',
                    'string' => 'text',
                    'float' => 'double precision',
                    default => $type,
                },
            ];
        }
        foreach ($class->associationMappings as $association) {
            if ($association->isToOneOwningSide()) {
                foreach ($association->joinColumns as $join) {
                    $columns[$join->name] = [false !== $join->nullable, 'integer'];
                }
            }
        }

        return $columns;
    }

    /** @return array<string, array{bool, string}> as for {@see self::mapped()} */
    private function columns(string $table): array
    {
        $columns = [];
        foreach ($this->database()->fetchAllNumeric(
            "SELECT column_name, is_nullable = 'YES', data_type FROM information_schema.columns WHERE table_name = ?
                AND table_schema = 'public'",
            [$table],
        ) as [$column, $nullable, $type]) {
            self::assertIsString($column);
            self::assertIsString($type);
            $columns[$column] = [true === $nullable, $type];
        }

        return $columns;
    }
}
