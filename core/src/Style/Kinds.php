<?php

declare(strict_types=1);

namespace Velvet\Core\Style;

use Velvet\Core\Card\CardFile;
use Velvet\Core\Card\FileKind;

/** Which files of a frame come along. The values are those of the headless contract. */
enum Kinds: string
{
    case Raw = 'raw';
    case Jpeg = 'jpeg';
    case Both = 'both';

    /**
     * The files of a frame that come along. A frame that has nothing of the wanted kind comes whole: nothing is left
     * behind because a camera was set otherwise for a moment.
     *
     * @param non-empty-list<CardFile> $files      the one that stands for the frame first
     * @param bool                     $companions whether movies and sound come along
     *
     * @return list<CardFile> none of a movie or of sound that stays on the card
     */
    public function of(array $files, bool $companions): array
    {
        if ($files[0]->kind->isMovieOrSound()) {
            return $companions ? $files : [];
        }
        $kept = [];
        $hasStill = false;
        foreach ($files as $file) {
            if ($this->takes($file->kind, $companions)) {
                $kept[] = $file;
                $hasStill = $hasStill || $file->kind->isStill();
            }
        }
        if ($hasStill && \count($kept) === \count($files)) {
            return $files; // not another list of the same: there are thousands of frames
        }
        if (!$hasStill) {
            $kept = array_values(
                array_filter(
                    $files,
                    static fn (CardFile $file): bool => $file->kind->isStill()
                        || $companions
                        || !$file->kind->isMovieOrSound(),
                ),
            );
        }

        return [] === $kept ? $files : $kept;
    }

    private function takes(FileKind $kind, bool $companions): bool
    {
        return match ($kind) {
            FileKind::Raw, FileKind::Dng => self::Jpeg !== $this,
            FileKind::Jpeg, FileKind::Heif, FileKind::Png, FileKind::Tiff => self::Raw !== $this,
            FileKind::Sidecar, FileKind::Other => true,
            FileKind::Movie, FileKind::Audio => $companions,
        };
    }
}
