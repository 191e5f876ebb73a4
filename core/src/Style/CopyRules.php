<?php

declare(strict_types=1);

namespace Velvet\Core\Style;

use Velvet\Core\Bytes\SecondDigest;

/**
 * How copies are proven: a second digest beside XXH128, and whether each shoot's folder gets a manifest of its
 * checksums.
 */
final readonly class CopyRules
{
    public function __construct(public ?SecondDigest $second = null, public bool $manifests = false)
    {
    }
}
