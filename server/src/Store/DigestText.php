<?php

declare(strict_types=1);

namespace Velvet\Server\Store;

use Doctrine\DBAL\Platforms\AbstractPlatform;
use Doctrine\DBAL\Types\Type;

/** A digest or fingerprint of 128 bits as 32 hexadecimal digits. */
final class DigestText extends Type
{
    public function getSQLDeclaration(array $column, AbstractPlatform $platform): string
    {
        return $platform->getStringTypeDeclarationSQL(['length' => 32, 'fixed' => true]);
    }
}
