<?php

declare(strict_types=1);

namespace Velvet\Core\Filed;

use Velvet\Core\Card\FileKind;

/** A file as it came from its card. */
final readonly class Received
{
    /**
     * @param string      $path        on the card
     * @param string      $fingerprint as {@see \Velvet\Core\Bytes\Fingerprint::$hex}
     * @param int         $modifiedAt  Unix seconds
     * @param string|null $picture     digest of the picture alone, hexadecimal; null where that cannot be told
     */
    public function __construct(
        public string $path,
        public FileKind $kind,
        public Content $content,
        public string $fingerprint,
        public int $modifiedAt,
        public ?string $picture = null,
    ) {
    }
}
