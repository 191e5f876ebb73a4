<?php

declare(strict_types=1);

namespace Velvet\Core\Filed;

/** A DNG that is proven and filed in every place. */
final readonly class MadeDng
{
    /**
     * @param string $path    on the shelf
     * @param string $samples MD5 of the raw file's samples, which the DNG has as well, hexadecimal
     */
    public function __construct(public string $path, public Content $content, public string $samples)
    {
    }
}
