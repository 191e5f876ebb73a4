<?php

declare(strict_types=1);

namespace Velvet\Core\Dng;

use Velvet\Core\Capture\CaptureUnreadable;
use Velvet\Core\Capture\FileBytes;
use Velvet\Core\Duplicate\Digest;
use Velvet\Core\Transfer\DriveCache;
use Velvet\Core\Transfer\PageCache;
use Velvet\Core\Transfer\PartFile;
use Velvet\Core\Transfer\TransferFailure;

/** A raw file made a DNG, which gets its name only when every sample came back from the drive. */
final readonly class Conversion
{
    /** @param string $samples MD5 of the samples, hexadecimal, as RawImageDigest has it */
    private function __construct(public int $bytesBefore, public int $bytesAfter, public string $samples, public Digest $digest)
    {
    }

    /**
     * @param string $from   absolute: the raw file
     * @param string $to     absolute: the DNG, which must not be there yet
     * @param bool   $embeds whether the raw file goes into the DNG, too
     * @param string|null $originalName what the raw file was called in the camera, where it is called otherwise now
     *
     * @throws DngRefused      when it cannot be converted, or did not come back the same; nothing is left at `$to` then
     * @throws TransferFailure when it cannot be written
     */
    public static function of(string $from, string $to, bool $embeds = false, ?string $originalName = null, DriveCache $cache = new PageCache()): self
    {
        try {
            $bytes = FileBytes::open($from);
            $source = RawFile::open($bytes);
            $image = $source->image();
            $dng = (new DngWriter(new LosslessJpegEncoder()))->of($source, $image, $originalName ?? basename($from), $embeds ? $bytes->read(0, $bytes->size()) : null);
        } catch (CaptureUnreadable $e) {
            throw DngRefused::structure($e->getMessage());
        }
        $digest = Digest::ofBytes($dng);
        $part = PartFile::create($to, 'dng-'.substr($digest->hex, 0, 12));
        try {
            $part->write($dng);
            $part->sync((int) @filemtime($from));
            $cache->forget($part->path);
            self::prove($part->path, $image);
            $part->place($digest);
        } finally {
            $part->discard();
        }

        return new self($bytes->size(), \strlen($dng), bin2hex($image->digest()), $digest);
    }

    /** @throws DngRefused */
    private static function prove(string $path, RawImage $image): void
    {
        try {
            $back = RawFile::open(FileBytes::open($path))->image();
        } catch (CaptureUnreadable $e) {
            throw DngRefused::structure($e->getMessage());
        }
        if ($back->samples !== $image->samples) {
            throw DngRefused::proof(intdiv(strspn($back->samples ^ $image->samples, "\0"), 2));
        }
    }
}
