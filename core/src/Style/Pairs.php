<?php

declare(strict_types=1);

namespace Velvet\Core\Style;

use Velvet\Core\Card\CardFile;
use Velvet\Core\Card\FileKind;

/** What becomes of a raw file and a JPEG (HEIF, TIFF) of one exposure, and which of them leads. */
enum Pairs: string
{
    /** One frame, under one name, seen by the picture in its raw file. */
    case Raw = 'raw';
    /** The same, seen by the picture that the camera made of it. */
    case Jpeg = 'jpeg';
    /** Two frames, each with its own name and picture. */
    case Apart = 'apart';

    /** By its value, or as documents had it before the raw file could lead. */
    public static function called(string $value): ?self
    {
        return 'together' === $value ? self::Jpeg : self::tryFrom($value);
    }

    /**
     * The pictures of a frame that are filed as one of their own: those beside its raw files.
     *
     * @param list<CardFile> $files of a frame
     *
     * @return list<CardFile>
     */
    public function apart(array $files): array
    {
        if (self::Apart !== $this) {
            return [];
        }

        return [] === array_filter($files, self::isRaw(...)) ? [] : array_values(array_filter(
            $files,
            static fn (CardFile $file): bool => $file->kind->isStill() && !self::isRaw($file),
        ));
    }

    /**
     * The picture that stands for a frame.
     *
     * @param list<CardFile>    $files        of the frame
     * @param list<string|null> $fingerprints of these; null for those that could not be read
     * @param string|null       $read         fingerprint of the file whose picture was found when the card was read:
     *                                        of a pair it is the JPEG's
     *
     * @return string|null fingerprint of the file that it lies in
     */
    public function picture(array $files, array $fingerprints, ?string $read): ?string
    {
        foreach (self::Jpeg === $this || null === $read ? [] : $files as $n => $file) {
            if (self::isRaw($file) && isset($fingerprints[$n])) {
                return $fingerprints[$n];
            }
        }

        return $read;
    }

    private static function isRaw(CardFile $file): bool
    {
        return \in_array($file->kind, [FileKind::Raw, FileKind::Dng], true);
    }
}
