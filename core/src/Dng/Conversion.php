<?php

declare(strict_types=1);

namespace Velvet\Core\Dng;

use Velvet\Core\Bytes\Digest;
use Velvet\Core\Bytes\FileBytes;
use Velvet\Core\Bytes\FileUnreadable;
use Velvet\Core\Capture\Capture;
use Velvet\Core\Capture\CaptureProblem;
use Velvet\Core\Copy\DriveCache;
use Velvet\Core\Copy\PageCache;
use Velvet\Core\Copy\PartFile;
use Velvet\Core\Copy\TransferFailure;

/** A raw file made a DNG, which gets its name only when every sample came back from the drive. */
final readonly class Conversion
{
    /** @param string $samples MD5 of the samples, hexadecimal, as RawImageDigest has it */
    private function __construct(
        public int $bytesBefore,
        public int $bytesAfter,
        public string $samples,
        public Digest $digest,
    ) {
    }

    /**
     * @param string $from   absolute: the raw file
     * @param string $to     absolute: the DNG, which must not be there yet
     * @param bool   $embeds whether the raw file goes into the DNG, too
     * @param LibRaw|null $libRaw      reads what is no plain TIFF structure, and knows the colours of cameras; give it
     *                                 to a process that is shut in
     * @param int         $cores        that it may use
     * @param string|null $originalName what the raw file was called in the camera, where it is called otherwise now
     *
     * @throws DngRefused      when it cannot be converted, or did not come back the same; nothing is left at `$to` then
     * @throws TransferFailure when it cannot be written
     */
    public static function of(
        string $from,
        string $to,
        bool $embeds = false,
        ?string $originalName = null,
        ?LibRaw $libRaw = null,
        int $cores = 1,
        DriveCache $cache = new PageCache(),
    ): self {
        try {
            $bytes = FileBytes::open($from);
            [$fields, $image] = self::source($bytes, $from, $libRaw);
            $dng = (new DngWriter(new LosslessJpegEncoder(), $cores))->of(
                $fields,
                $image,
                $samples = $image->digest(),
                $originalName ?? basename($from),
                $embeds ? $bytes->read(0, $bytes->size()) : null,
            );
        } catch (FileUnreadable $e) {
            throw DngRefused::structure($e->getMessage());
        }
        $digest = Digest::ofBytes($dng);
        $part = PartFile::create($to, 'dng-'.substr($digest->hex, 0, 12));
        try {
            $part->write($dng);
            $part->finish((int) @filemtime($from));
            $part->sync();
            $cache->forget($part->path);
            self::prove($part->path, $image, $cores);
            $part->place($digest);
        } finally {
            $part->discard();
        }

        return new self($bytes->size(), \strlen($dng), bin2hex($samples), $digest);
    }

    /**
     * A DNG is read by us; what else has plain samples is, too, and LibRaw's word is taken for its levels and colours,
     * and for its samples where it reads them in another way, since it knows what makers do differently.
     *
     * @return array{RawFields, RawImage}
     *
     * @throws DngRefused
     */
    private static function source(FileBytes $bytes, string $path, ?LibRaw $libRaw): array
    {
        $own = null;
        try {
            $file = RawFile::open($bytes);
            $own = [$file->fields(), $file->image()];
            if ($file->isDng() || null === $libRaw) {
                return $own;
            }
        } catch (DngRefused $e) {
            if (null === $libRaw || !$e->isOfUnknownKind) {
                throw $e;
            }
        }
        self::mustBeWhole($path);
        try {
            return [null === $own ? ContainerFields::of($bytes, $path) : $own[0], $libRaw->image($path)];
        } catch (DngRefused $e) {
            // of a kind that it does not know our own reading will do; what it finds broken is
            return null !== $own && $e->isOfUnknownKind ? $own : throw $e;
        }
    }

    /** @throws DngRefused when the file describes data that lie beyond its end */
    private static function mustBeWhole(string $path): void
    {
        $problems = Capture::inZone(new \DateTimeZone('UTC'))->of($path, 0)->facts->problems;
        $codes = array_map(static fn (CaptureProblem $problem): string => $problem->code, $problems);
        if (\in_array('cut_short', $codes, true)) {
            throw DngRefused::structure('it is cut short, or damaged');
        }
    }

    /** @throws DngRefused */
    private static function prove(string $path, RawImage $image, int $cores): void
    {
        // each opens the file for itself: a handle that two share has one place between them
        $parts = array_map(static fn (int $part): \Closure => static function () use (
            $path,
            $image,
            $part,
            $cores,
        ): string {
            try {
                $at = RawFile::open(FileBytes::open($path))->differsFrom($image, max(0, $part), max(1, $cores));
            } catch (FileUnreadable $e) {
                throw DngRefused::structure($e->getMessage());
            }

            return null === $at ? '' : (string) $at;
        }, range(0, max(1, $cores) - 1));
        foreach (SideBySide::of($parts) as $found) {
            if ('' !== $found) {
                throw DngRefused::proof((int) $found);
            }
        }
    }
}
