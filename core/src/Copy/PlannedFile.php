<?php

declare(strict_types=1);

namespace Velvet\Core\Copy;

use Velvet\Core\Card\FileKind;
use Velvet\Core\Plan\PlannedWords;
use Velvet\Core\Style\DngChoice;

/** One file of a frame, as the plan settles what is to become of it. */
final readonly class PlannedFile
{
    /**
     * @param string            $source      on the card
     * @param string            $target      on the shelf; of one that equals another, that one's
     * @param int               $modifiedAt  Unix seconds
     * @param string|null       $fingerprint as {@see \Velvet\Core\Bytes\Fingerprint::$hex}
     * @param bool              $equals      whether it seems to be what another file of the intake is
     * @param PlannedWords|null $words       what it is to say; null where it holds no metadata
     * @param int|null          $repairs     the filed file that it puts right
     */
    public function __construct(
        public string $source,
        public string $target,
        public FileKind $kind,
        public int $bytes,
        public int $modifiedAt,
        public ?string $fingerprint,
        public bool $equals = false,
        public ?PlannedWords $words = null,
        public ?int $repairs = null,
        public DngChoice $dng = DngChoice::No,
    ) {
    }
}
