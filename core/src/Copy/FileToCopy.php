<?php

declare(strict_types=1);

namespace Velvet\Core\Copy;

use Velvet\Core\Bytes\Digest;
use Velvet\Core\Bytes\FileBytes;
use Velvet\Core\Bytes\Fingerprint;
use Velvet\Core\Bytes\SecondDigest;
use Velvet\Core\Metadata\PictureFile;
use Velvet\Core\Metadata\Splice;

/** One file on its way from a card to all its destinations. */
final readonly class FileToCopy
{
    /**
     * @param string                 $source     absolute path on the card
     * @param int                    $bytes      the size the plan counted on
     * @param int                    $modifiedAt Unix seconds; the copies keep it
     * @param non-empty-list<string> $targets    absolute final paths, one for each destination
     * @param string                 $token      unique among all transfers and attempts; names the temporary files
     * @param array<string, Ground>  $grounds    what each target must stand on, where that is known
     * @param Fingerprint|null       $fingerprint that it had when the plan was made; null where nobody knows
     * @param bool                   $repairs    whether a damaged copy that bears the name is put aside
     * @param Digest|null            $expected   what it must contain, where that is known before
     * @param PictureFile|null       $kind       how its picture is told from what is said of it; null: nobody asks
     * @param (\Closure(FileBytes): (Splice|null))|null $words what is written into it on the way, asked when it is
     *     open; it is copied as it is where that gives nothing or throws {@see \Velvet\Core\Bytes\StructureBroken}
     * @param Digest|null            $cutOff     what was about to take its place when an earlier attempt was cut off;
     *     a file of that content gives way
     */
    public function __construct(
        public string $source,
        public int $bytes,
        public int $modifiedAt,
        public array $targets,
        public string $token,
        public ?SecondDigest $second = null,
        public bool $repairs = false,
        public array $grounds = [],
        public ?Digest $expected = null,
        public ?Fingerprint $fingerprint = null,
        public ?PictureFile $kind = null,
        public ?\Closure $words = null,
        public ?Digest $cutOff = null,
    ) {
    }
}
