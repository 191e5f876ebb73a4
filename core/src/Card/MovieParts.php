<?php

declare(strict_types=1);

namespace Velvet\Core\Card;

/**
 * Which movie a part of one belongs to. Cameras cut long movies into pieces of 4 GB and lay smaller copies, thumbnails
 * and descriptions beside them, under other names or in other folders (common practice; layouts from memory).
 */
final class MovieParts
{
    /** Two digits of the piece, then four of the movie; the first piece of older cameras has letters for the former. */
    private const CHAPTER = '~^G(?:[HXLS]\d{2}|P\d{2}|OPR)(\d{4})$~i';
    /** XDCAM-like folders: clips, smaller copies, thumbnails. */
    private const CLIP = '~^((?:.*/)?(?:M4|XD)ROOT)/(CLIP|SUB|THMBNL)/([^/]*?\d{4})(?:[MST]\d{2})?\.[^./]+$~i';
    /** AVCHD-like folders: streams, and what is to be known of each. */
    private const STREAM = '~^((?:.*/)?BDMV)/(?:STREAM|CLIPINF)/(\d{5})\.[^./]+$~i';
    private const SMALLER = ['lrv', 'lrf', 'glv'];

    /** What is the same for all parts of one movie, in any letter case. */
    public static function key(CardFile $file): string
    {
        if (1 === preg_match(self::CLIP, $file->path, $part)) {
            return self::of($part[1].'/CLIP', $part[3]);
        }
        if (1 === preg_match(self::STREAM, $file->path, $part)) {
            return self::of($part[1].'/STREAM', $part[2]);
        }

        return 1 === preg_match(self::CHAPTER, $file->stem(), $part)
            ? self::of($file->folder(), 'chapters '.$part[1])
            : self::of($file->folder(), $file->stem());
    }

    public static function of(string $folder, string $stem): string
    {
        return mb_strtolower($folder."\0".$stem, 'UTF-8');
    }

    /** Whether it is a smaller copy that the camera made for looking at. */
    public static function isSmaller(CardFile $file): bool
    {
        return \in_array(strtolower($file->extension()), self::SMALLER, true) || 'sub' === self::partOfClip($file);
    }

    /** Whether it is a picture that stands for a movie, not one that was taken. */
    public static function isThumbnail(CardFile $file): bool
    {
        return 'thmbnl' === self::partOfClip($file);
    }

    private static function partOfClip(CardFile $file): ?string
    {
        return 1 === preg_match(self::CLIP, $file->path, $part) ? strtolower($part[2]) : null;
    }
}
