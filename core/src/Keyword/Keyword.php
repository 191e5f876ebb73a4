<?php

declare(strict_types=1);

namespace Velvet\Core\Keyword;

/** A keyword of the catalogue. */
final readonly class Keyword
{
    /**
     * @param int|null     $above      the id of the keyword that it lies beneath
     * @param bool         $heading    only orders those beneath it and is never written
     * @param bool         $private    stays in the catalogue and is never written
     * @param bool         $withAbove  whether those above it are written with it
     * @param list<string> $synonyms   other words by which it is found; they are not written
     * @param int          $uses       frames that have it
     * @param int          $lastUsed   Unix seconds; 0 for never
     */
    public function __construct(
        public int $id,
        public ?int $above,
        public string $name,
        public bool $heading = false,
        public bool $private = false,
        public bool $withAbove = true,
        public array $synonyms = [],
        public int $uses = 0,
        public int $lastUsed = 0,
    ) {
    }
}
