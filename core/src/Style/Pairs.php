<?php

declare(strict_types=1);

namespace Velvet\Core\Style;

use Velvet\Core\Card\CardFile;
use Velvet\Core\Card\FileKind;

/** What becomes of a raw file and the picture beside it. The values are those of the house style. */
enum Pairs: string
{
    /** One frame, under one name. */
    case Together = 'together';
    /** Two frames, each with its own name. */
    case Apart = 'apart';

    /**
     * The pictures of a frame that are filed as one of their own: those beside its raw files.
     *
     * @param list<CardFile> $files of a frame
     *
     * @return list<CardFile>
     */
    public function apart(array $files): array
    {
        if (self::Together === $this) {
            return [];
        }
        $isRaw = static fn (CardFile $file): bool => \in_array($file->kind, [FileKind::Raw, FileKind::Dng], true);

        return [] === array_filter($files, $isRaw) ? [] : array_values(array_filter(
            $files,
            static fn (CardFile $file): bool => $file->kind->isStill() && !$isRaw($file),
        ));
    }
}
