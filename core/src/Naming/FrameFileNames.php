<?php

declare(strict_types=1);

namespace Velvet\Core\Naming;

use Velvet\Core\Card\CardFile;
use Velvet\Core\Card\FileKind;

/** Names for the files of one frame: one stem, the extensions kept in lower case. */
final class FrameFileNames
{
    /**
     * @param list<CardFile> $files
     *
     * @return list<string> one for each file, in the same order
     */
    public static function of(string $stem, array $files): array
    {
        return array_map(static fn (CardFile $file): string => $stem.self::suffix($file), $files);
    }

    /** A sidecar called `name.ext.xmp` stays one: it says which file of the frame it belongs to. */
    private static function suffix(CardFile $file): string
    {
        $suffix = '.'.PortableName::word($file->extension());
        if (FileKind::Sidecar === $file->kind && FileKind::ofName($file->stem())->isStill()) {
            $inner = substr($file->stem(), (int) strrpos($file->stem(), '.') + 1);
            $suffix = '.'.PortableName::word($inner).$suffix;
        }

        return $suffix;
    }
}
