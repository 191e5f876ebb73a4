<?php

declare(strict_types=1);

namespace Velvet\Server\Store;

use Doctrine\DBAL\Platforms\AbstractPlatform;
use Doctrine\DBAL\Types\JsonType;

/** Named members as a JSON object, also where there are none: Doctrine's own type writes an empty list then. */
final class JsonObject extends JsonType
{
    public function convertToDatabaseValue(mixed $value, AbstractPlatform $platform): ?string
    {
        return parent::convertToDatabaseValue(\is_array($value) ? (object) $value : $value, $platform);
    }

    public function getSQLDeclaration(array $column, AbstractPlatform $platform): string
    {
        return 'JSONB';
    }
}
