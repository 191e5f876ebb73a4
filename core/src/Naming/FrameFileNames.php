<?php

declare(strict_types=1);

namespace Velvet\Core\Naming;

use Velvet\Core\Card\CardFile;
use Velvet\Core\Card\FileKind;

/**
 * Names for the files of one frame: one stem, the original extensions in the letter case that the style asks for. Of
 * several with one extension, as the pieces of a long movie, the second gets `.2` before it: what stands before a dot
 * is no other frame's stem ({@see Stems}).
 */
final class FrameFileNames
{
    /**
     * @param list<CardFile> $files
     *
     * @return list<string> one for each file, in the same order
     */
    public static function of(string $stem, array $files, LetterCase $case): array
    {
        $names = $met = [];
        foreach ($files as $file) {
            $suffix = $case->of(self::suffix($file));
            $n = $met[strtolower($suffix)] = ($met[strtolower($suffix)] ?? 0) + 1;
            $names[] = $stem.(1 === $n ? '' : '.'.$n).$suffix;
        }

        return $names;
    }

    /** What is called `name.ext.xmp` stays so: it says which file of the frame it belongs to. */
    private static function suffix(CardFile $file): string
    {
        $suffix = '' === $file->extension() ? '' : '.'.PortableName::joined($file->extension(), '-');
        if (
            \in_array($file->kind, [FileKind::Sidecar, FileKind::Other], true)
            && FileKind::Other !== FileKind::ofName($file->stem())
        ) {
            $inner = substr($file->stem(), (int) strrpos($file->stem(), '.') + 1);
            $suffix = '.'.PortableName::joined($inner, '-').$suffix;
        }

        return $suffix;
    }
}
