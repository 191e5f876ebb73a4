<?php

declare(strict_types=1);

namespace Velvet\Core\Dng;

use Velvet\Core\Bytes\Digest;
use Velvet\Core\Bytes\FileBytes;
use Velvet\Core\Bytes\FileUnreadable;
use Velvet\Core\Bytes\TiffBlock;
use Velvet\Core\Copy\PartFile;
use Velvet\Core\Copy\TransferFailure;

/**
 * The raw file within its DNG, as OriginalRawFileData has it (DNG 1.7.1, from memory): forks one behind the other,
 * numbers of 32 bits big-endian; the data fork in blocks of 64 KB, each deflated (RFC 1950), the others empty.
 */
final readonly class EmbeddedOriginal
{
    private const BLOCK = 65536;
    /** Larger than any raw file. */
    private const MOST_BYTES = 1 << 30;
    /** Resource fork, type, creator, and the like three of the sidecar: none of them is there. */
    private const EMPTY_FORKS = 7;

    /** @param string $name as it was called in the camera, without folders */
    private function __construct(public string $name, public string $bytes)
    {
    }

    /** As it goes into a DNG. */
    public static function of(string $file): string
    {
        $blocks = array_map(
            static fn (string $block): string => (string) gzcompress($block),
            '' === $file ? [] : str_split($file, self::BLOCK),
        );
        $at = 4 + 4 * (\count($blocks) + 1);
        $table = pack('N', \strlen($file));
        foreach ([...$blocks, ''] as $block) {
            $table .= pack('N', $at);
            $at += \strlen($block);
        }

        return $table.implode('', $blocks).str_repeat(pack('N', 0), self::EMPTY_FORKS);
    }

    /**
     * The way back.
     *
     * @throws DngRefused
     */
    public static function extract(string $embedded): string
    {
        $length = self::number($embedded, 0);
        $count = intdiv($length + self::BLOCK - 1, self::BLOCK);
        $file = '';
        for ($n = 0; $n < $count; ++$n) {
            [$from, $to] = [self::number($embedded, 4 + 4 * $n), self::number($embedded, 8 + 4 * $n)];
            $block = $to > $from ? @gzuncompress(substr($embedded, $from, $to - $from), self::BLOCK) : false;
            if (false === $block) {
                throw DngRefused::structure('the raw file within it is damaged');
            }
            $file .= $block;
        }
        if (\strlen($file) !== $length) {
            throw DngRefused::structure('the raw file within it is damaged');
        }

        return $file;
    }

    /**
     * The raw file within a DNG, proven by the digest that the DNG has of it.
     *
     * @param string $dng absolute path
     *
     * @throws DngRefused
     * @throws FileUnreadable when the DNG cannot be read
     */
    public static function in(string $dng): self
    {
        $tiff = TiffFields::of(FileBytes::open($dng), self::MOST_BYTES);
        [$fields] = $tiff->directory($tiff->first());
        $embedded = $fields[RawTag::ORIGINAL_DATA][1] ?? throw DngRefused::nothingInside();
        $digest = $fields[RawTag::ORIGINAL_DIGEST][1] ?? null;
        if (null !== $digest && md5($embedded, true) !== $digest) {
            throw DngRefused::structure('the raw file within it is damaged');
        }
        $name = basename(strtr(trim($fields[RawTag::ORIGINAL_NAME][1] ?? '', "\0"), '\\', '/'));

        return new self('' === $name ? pathinfo($dng, \PATHINFO_FILENAME).'.raw' : $name, self::extract($embedded));
    }

    /**
     * Gives it a place and its name back.
     *
     * @param string $to absolute; nothing is overwritten
     *
     * @throws TransferFailure
     */
    public function place(string $to, int $modifiedAt): void
    {
        $digest = Digest::ofBytes($this->bytes);
        $part = PartFile::create($to, 'raw-'.substr($digest->hex, 0, 12));
        try {
            $part->write($this->bytes);
            $part->finish($modifiedAt);
            $part->sync();
            $part->place($digest);
        } finally {
            $part->discard();
        }
    }

    private static function number(string $bytes, int $at): int
    {
        return TiffBlock::number($bytes, $at, 4, false);
    }
}
