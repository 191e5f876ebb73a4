<?php

declare(strict_types=1);

namespace Velvet\Core\Style;

use Velvet\Core\Card\FileKind;
use Velvet\Core\Shoot\InRun;

/** In which folder below a shoot's own each file lies. */
final readonly class Subfolders
{
    public const LOOSE = 'other files';
    public const STRAYS = 'strays';

    /**
     * @param string|null           $raw      for raw files and DNGs; null: they lie in the shoot's folder
     * @param string|null           $jpeg     the same for all other stills
     * @param string|null           $movie    the same for movies and sound that belong to no picture
     * @param string                $loose    the same for files of no frame, which keep their names and folders in it
     * @param array<string, string> $runs     for the frames of time-lapses, brackets and bursts, by the name of the
     *                                        kind; each run gets its number behind it
     * @param list<string>          $skeleton that are made with each shoot
     * @param list<string>          $stages   names of shelves on which the shoot's folder is made, too: for working
     *                                        files, for finals
     */
    public function __construct(
        public ?string $raw,
        public ?string $jpeg,
        public ?string $movie,
        public string $loose,
        public array $runs,
        public array $skeleton,
        public array $stages = [],
    ) {
    }

    /**
     * The shoot's folder that a file's folder is, or lies in.
     *
     * @param string $folder relative to the shelf
     */
    public function shootOf(string $folder): string
    {
        foreach ($this->runs as $name) {
            $folder = (string) preg_replace('~/'.preg_quote($name, '~').' \d{2,}$~', '', $folder);
        }
        foreach (array_filter([$this->raw, $this->jpeg, $this->movie, self::STRAYS], is_string(...)) as $name) {
            if (str_ends_with($folder, '/'.$name)) {
                return substr($folder, 0, -\strlen('/'.$name));
            }
        }

        return $folder;
    }

    /**
     * With a trailing `/`; empty where it lies in the shoot's own folder.
     *
     * @param FileKind $leading kind of the file that stands for its frame
     */
    public function of(FileKind $kind, FileKind $leading, ?InRun $run = null): string
    {
        $folder = $leading->isMovieOrSound() ? $this->movie : match ($kind) {
            FileKind::Raw, FileKind::Dng => $this->raw,
            FileKind::Jpeg, FileKind::Heif, FileKind::Png, FileKind::Tiff => $this->jpeg,
            default => null,
        };
        $runFolder = null === $run ? null : $this->runs[$run->kind->name] ?? null;

        return (null === $folder ? '' : $folder.'/')
            .(null === $run || null === $runFolder ? '' : \sprintf('%s %02d/', $runFolder, $run->run));
    }
}
