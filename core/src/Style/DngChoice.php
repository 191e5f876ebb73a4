<?php

declare(strict_types=1);

namespace Velvet\Core\Style;

use Velvet\Core\Card\FileKind;
use Velvet\Core\Naming\LetterCase;

/** Whether raw files become DNG. The first three values are those of the headless contract. */
enum DngChoice: string
{
    case No = 'no';
    /** The raw file stays, the DNG lies beside it. */
    case Beside = 'beside';
    /** The raw file's copies go when the DNG is proven in every place; the raw file itself stays on the card. */
    case Instead = 'instead';
    /** As instead of it, but the raw file lies within the DNG and can be taken out again. */
    case Embed = 'embed';

    public function keepsRaw(): bool
    {
        return self::No === $this || self::Beside === $this;
    }

    /**
     * The names that a frame's files have in the end, when all its raw files could be converted.
     *
     * @param list<string>        $paths those under which they are copied
     * @param list<FileKind|null> $kinds one for each; null for those that stay as they are
     *
     * @return list<string> as many, and those of DNGs that lie beside their raw files behind them
     */
    public function filedAs(array $paths, array $kinds, LetterCase $case): array
    {
        if (self::No === $this) {
            return $paths;
        }
        $beside = [];
        foreach ($paths as $i => $path) {
            if (FileKind::Raw === $kinds[$i]) {
                $dng = self::nameOf($path, $case);
                $this->keepsRaw() ? $beside[] = $dng : $paths[$i] = $dng;
            }
        }

        return [...$paths, ...$beside];
    }

    /**
     * More bytes than the copies alone take, at most: a DNG is not larger than the raw file, uncompressed as that may
     * be.
     *
     * @param int $raw bytes of the raw file
     */
    public function mostBytes(int $raw): int
    {
        return self::Beside === $this || self::Embed === $this ? $raw : 0;
    }

    /** A DNG is called as its raw file, but for the extension. */
    public static function nameOf(string $raw, LetterCase $case): string
    {
        return substr(
            $raw,
            0,
            \strlen($raw) - \strlen(pathinfo($raw, \PATHINFO_EXTENSION)),
        ).substr($case->of('.dng'), 1);
    }
}
