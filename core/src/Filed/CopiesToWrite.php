<?php

declare(strict_types=1);

namespace Velvet\Core\Filed;

use Velvet\Core\Bytes\Digest;
use Velvet\Core\Bytes\SecondDigest;
use Velvet\Core\Copy\Ground;

/** The copies of one file that get a new content together. */
final readonly class CopiesToWrite
{
    /**
     * @param non-empty-list<string> $paths      absolute
     * @param Digest|null            $old        of the content that all of them have now; null where they are not there
     * @param int                    $modifiedAt Unix seconds; the time that the new files get
     * @param string                 $token      of the temporary files
     * @param array<string, Ground>  $grounds    what each path must stand on, where that is known
     * @param SecondDigest|null      $second     a second digest of the new content, where one is wanted
     */
    public function __construct(
        public array $paths,
        public ?Digest $old,
        public int $modifiedAt,
        public string $token,
        public array $grounds,
        public ?SecondDigest $second = null,
    ) {
    }

    /** One of them alone. */
    public function at(string $path): self
    {
        return new self([$path], $this->old, $this->modifiedAt, $this->token, $this->grounds, $this->second);
    }
}
