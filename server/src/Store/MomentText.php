<?php

declare(strict_types=1);

namespace Velvet\Server\Store;

use Doctrine\DBAL\Platforms\AbstractPlatform;
use Doctrine\DBAL\Types\Type;

/** A moment as PostgreSQL writes it, to the fraction of a second that it has: what is only handed on stays exact. */
final class MomentText extends Type
{
    public function getSQLDeclaration(array $column, AbstractPlatform $platform): string
    {
        return $platform->getDateTimeTypeDeclarationSQL($column);
    }
}
