<?php

declare(strict_types=1);

namespace Velvet\Server\Store;

use Doctrine\DBAL\Platforms\AbstractPlatform;
use Doctrine\DBAL\Types\Type;

/** A day as `YYYY-MM-DD`: a day has no time and no zone, so no date object that has both. */
final class DateText extends Type
{
    public function getSQLDeclaration(array $column, AbstractPlatform $platform): string
    {
        return $platform->getDateTypeDeclarationSQL($column);
    }
}
