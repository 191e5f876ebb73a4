<?php

declare(strict_types=1);

namespace Velvet\Server\Store;

use Doctrine\DBAL\Platforms\AbstractPlatform;
use Doctrine\DBAL\Types\Type;
use Velvet\Core\Shoot\Day;

/** A {@see Day}, which has no time and no zone, so no date object that has both. */
final class DayType extends Type
{
    public function getSQLDeclaration(array $column, AbstractPlatform $platform): string
    {
        return $platform->getDateTypeDeclarationSQL($column);
    }

    public function convertToPHPValue(mixed $value, AbstractPlatform $platform): ?Day
    {
        return \is_string($value) ? Day::fromText($value) : null;
    }

    public function convertToDatabaseValue(mixed $value, AbstractPlatform $platform): ?string
    {
        return $value instanceof Day ? $value->text() : null;
    }
}
