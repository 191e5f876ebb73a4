<?php

declare(strict_types=1);

namespace Velvet\Server\Work\Intakes;

use Velvet\Core\Copy\CopiedFile;
use Velvet\Server\Store\ClaimedFile;

/** A file that was copied and verified in every place, and is to be filed. */
final readonly class CopiedClaim
{
    /**
     * @param string       $stamp  of the card's file before it was read, as {@see \Velvet\Core\Drive\FileStamp::text()}
     *                             has it
     * @param list<string> $stamps of its copies, in the order of the places
     */
    public function __construct(
        public ClaimedFile $claimed,
        public CopiedFile $copied,
        public string $stamp,
        public array $stamps,
    ) {
    }
}
