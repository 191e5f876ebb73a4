<?php

declare(strict_types=1);

namespace Velvet\Server\Metadata;

use Velvet\Core\Bytes\Digest;
use Velvet\Core\Card\FileKind;
use Velvet\Core\Copy\DriveGone;
use Velvet\Core\Copy\Ground;
use Velvet\Core\Drive\DriveTable;
use Velvet\Core\Metadata\JpegFile;
use Velvet\Core\Metadata\PictureFile;
use Velvet\Core\Metadata\PngFile;
use Velvet\Core\Metadata\SidecarFile;
use Velvet\Core\Metadata\TiffFile;
use Velvet\Core\Style\SidecarName;
use Velvet\Server\Ledger\FiledPlaces;
use Velvet\Server\Store\Row;

/**
 * What holds the metadata of a filed file: the file itself, or the sidecar beside it; a maker's raw file is never
 * written into.
 */
final readonly class Holder
{
    public const FILE = 'SELECT f.*, '.FiledPlaces::COLUMNS.' FROM filed_file f JOIN shelf s ON s.id = f.shelf_id';

    /**
     * @param list<string> $roots  of the places that have a copy, those that are connected
     * @param bool         $isWhole whether all of them are
     * @param string       $path   relative to them
     * @param Digest|null  $digest what it contains, as the ledger has it; null for a sidecar that is not there yet
     */
    private function __construct(
        private FiledPlaces $places,
        public array $roots,
        public bool $isWhole,
        public string $path,
        public PictureFile $kind,
        public bool $isSidecar,
        public ?Digest $digest,
        public ?int $bytes,
        public ?int $modifiedAt,
    ) {
    }

    /** @param Row $file a row of {@see FILE} */
    public static function of(Row $file, SidecarName $naming, DriveTable $drives): self
    {
        $places = FiledPlaces::of($file, $drives);
        $there = $places->connected;
        $kind = self::kindOf(
            array_map(static fn (string $root): string => $root.'/'.$file->text('path'), $there),
            FileKind::from($file->text('kind')),
        );
        if (null !== $kind) {
            return new self(
                $places,
                $there,
                $places->areConnected(),
                $file->text('path'),
                $kind,
                false,
                Digest::fromHex($file->textOrNull('digest_now') ?? $file->text('digest')),
                $file->intOrNull('bytes_now') ?? $file->int('bytes'),
                $file->intOrNull('modified_at'),
            );
        }
        $digest = $file->textOrNull('sidecar_digest');

        return new self(
            $places,
            $there,
            $places->areConnected(),
            $file->textOrNull('sidecar_path') ?? $naming->of($file->text('path')),
            new SidecarFile(),
            true,
            null === $digest ? null : Digest::fromHex($digest),
            $file->intOrNull('sidecar_bytes'),
            $file->intOrNull('sidecar_modified_at'),
        );
    }

    /** @return list<string> absolute, on every drive that is connected */
    public function paths(): array
    {
        return array_map(fn (string $root): string => $root.'/'.$this->path, $this->roots);
    }

    /**
     * @return array<string, Ground> what each path must stand on
     *
     * @throws DriveGone
     */
    public function grounds(): array
    {
        return $this->places->drives->grounds(array_combine($this->roots, $this->paths()));
    }

    /**
     * How metadata gets into a file; null where only a sidecar can hold it.
     *
     * @param list<string> $paths
     */
    public static function kindOf(array $paths, FileKind $kind): ?PictureFile
    {
        $head = '';
        foreach ($paths as $path) {
            $head = '' === $head && is_file($path) ? (string) @file_get_contents($path, false, null, 0, 8) : $head;
        }

        return match (true) {
            FileKind::Sidecar === $kind => new SidecarFile(),
            // what cannot be read now is what its name says, and is refused with a reason
            '' === $head && FileKind::Jpeg === $kind => new JpegFile(),
            '' === $head && FileKind::Png === $kind => new PngFile(),
            '' === $head && \in_array($kind, [FileKind::Tiff, FileKind::Dng], true) => new TiffFile(),
            str_starts_with($head, "\xFF\xD8\xFF") => new JpegFile(),
            str_starts_with($head, "\x89PNG") => new PngFile(),
            \in_array($kind, [FileKind::Tiff, FileKind::Dng], true) && \in_array(
                substr($head, 0, 4),
                ["II\x2A\0", "MM\0\x2A"],
                true,
            ) => new TiffFile(),
            default => null,
        };
    }
}
