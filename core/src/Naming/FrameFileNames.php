<?php

declare(strict_types=1);

namespace Velvet\Core\Naming;

use Velvet\Core\Card\CardFile;
use Velvet\Core\Card\FileKind;

/** Names for the files of one frame: one stem, the original extensions in the letter case that the style asks for. */
final class FrameFileNames
{
    /**
     * @param list<CardFile> $files
     *
     * @return list<string> one for each file, in the same order
     */
    public static function of(string $stem, array $files, LetterCase $case): array
    {
        return array_map(static fn (CardFile $file): string => $stem.$case->of(self::suffix($file)), $files);
    }

    /** A sidecar called `name.ext.xmp` stays one: it says which file of the frame it belongs to. */
    private static function suffix(CardFile $file): string
    {
        $suffix = '.'.PortableName::joined($file->extension(), '-');
        if (FileKind::Sidecar === $file->kind && FileKind::ofName($file->stem())->isStill()) {
            $inner = substr($file->stem(), (int) strrpos($file->stem(), '.') + 1);
            $suffix = '.'.PortableName::joined($inner, '-').$suffix;
        }

        return $suffix;
    }
}
