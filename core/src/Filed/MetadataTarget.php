<?php

declare(strict_types=1);

namespace Velvet\Core\Filed;

use Velvet\Core\Bytes\FileBytes;
use Velvet\Core\Bytes\FileUnreadable;
use Velvet\Core\Capture\OwnPacket;
use Velvet\Core\Card\FileKind;
use Velvet\Core\Copy\DriveGone;
use Velvet\Core\Copy\Ground;
use Velvet\Core\Metadata\JpegFile;
use Velvet\Core\Metadata\PictureFile;
use Velvet\Core\Metadata\PngFile;
use Velvet\Core\Metadata\SidecarFile;
use Velvet\Core\Metadata\TiffFile;
use Velvet\Core\Style\SidecarName;

/**
 * What holds the metadata of a filed file: the file itself, or the sidecar beside it; a maker's raw file is never
 * written into, and what is broken in a way of its own gets a sidecar, too.
 */
final readonly class MetadataTarget
{
    /**
     * @param string       $path       relative to the places
     * @param Content|null $content    what it contains, as the ledger has it; null for a sidecar that is not there yet
     * @param int|null     $modifiedAt Unix seconds
     * @param string       $picture    the filed file, relative to the places
     */
    private function __construct(
        public FilePlaces $places,
        public string $path,
        public PictureFile $kind,
        public bool $isSidecar,
        public ?Content $content,
        public ?int $modifiedAt,
        private string $picture,
    ) {
    }

    public static function of(FiledFile $file, FilePlaces $places, SidecarName $naming): self
    {
        $there = $places->connected;
        $kind = $file->isSaidBeside() ? null : self::kindOf(
            array_map(static fn (string $root): string => $root.'/'.$file->path(), $there),
            $file->kind(),
        );
        // beside a raw file of its name the short one may be taken
        $naming = $file->isSaidBeside() ? SidecarName::Whole : $naming;

        return null === $kind
            ? new self(
                $places,
                $file->sidecarPath() ?? $naming->of($file->path()),
                new SidecarFile(),
                true,
                $file->sidecar(),
                $file->sidecarModifiedAt(),
                $file->path(),
            )
            : new self($places, $file->path(), $kind, false, $file->content(), $file->modifiedAt(), $file->path());
    }

    /** The packet that stands in the picture itself, where only a sidecar can hold what we say; null for none. */
    public function packetOfPicture(): ?string
    {
        $root = $this->places->connected[0] ?? null;
        try {
            return null === $root || !$this->isSidecar
                ? null
                : OwnPacket::of(FileBytes::open($root.'/'.$this->picture));
        } catch (FileUnreadable) {
            return null;
        }
    }

    /** @return list<string> absolute, on every drive that is connected */
    public function paths(): array
    {
        return array_map(fn (string $root): string => $root.'/'.$this->path, $this->places->connected);
    }

    /**
     * @return array<string, Ground> what each path must stand on
     *
     * @throws DriveGone
     */
    public function grounds(): array
    {
        return $this->places->drives->grounds(array_combine($this->places->connected, $this->paths()));
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
