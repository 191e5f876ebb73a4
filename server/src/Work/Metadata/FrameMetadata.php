<?php

declare(strict_types=1);

namespace Velvet\Server\Work\Metadata;

use Velvet\Core\Bytes\FileBytes;
use Velvet\Core\Bytes\FileUnreadable;
use Velvet\Core\Bytes\StructureBroken;
use Velvet\Core\Filed\FiledFile;
use Velvet\Core\Filed\MetadataState;
use Velvet\Core\Filed\MetadataTarget;
use Velvet\Core\Metadata\Metadata;
use Velvet\Core\Style\SidecarName;
use Velvet\Server\Store\FiledFiles;
use Velvet\Server\Store\FiledFrames;

/** What filed frames say: what was asked for here, and beneath it what their files said themselves when they came. */
final readonly class FrameMetadata
{
    public function __construct(
        private FiledFrames $frames,
        private Keywords $keywords,
        private FiledFiles $files,
    ) {
    }

    /** What is to be written into a file of a frame. */
    public function of(FiledFile $file): Metadata
    {
        $this->takeOwn($file->frame());
        $words = $this->frames->words($file->frame());
        $tree = $this->keywords->about($words->keywords);
        [$flat, $nested] = $tree->written(array_map($tree->path(...), $words->keywords));

        return new Metadata($words->says + $file->ofFile(), $flat, $nested, $words->rating);
    }

    /**
     * What the files of a frame say themselves, each taken in once, before anything of ours is written into it: their
     * keywords become the frame's.
     */
    public function takeOwn(int $frameId): void
    {
        foreach ($this->files->notAsked($frameId) as $file) {
            $said = self::said(MetadataTarget::of($file, $this->files->places($file), SidecarName::Stem));
            $ids = $this->keywords->idsSaidBy($said);
            $this->files->change($file->id(), fn (FiledFile $now) => $this->take($now, $said, $ids));
        }
    }

    /** @param list<int> $ids of the keywords that it says */
    private function take(FiledFile $file, Metadata $said, array $ids): void
    {
        if ($file->isOwnTaken()) {
            return; // another one did it meanwhile
        }
        $file->ownTaken();
        foreach ($this->frames->wordsToChange([$file->frame()]) as $words) {
            $this->frames->keepOwn($words->frame, $words->ownWith($said));
        }
        $this->frames->give([$file->frame()], $ids);
        // files that were written before this one came get its keywords, too
        foreach ([] === $ids ? [] : $this->files->ofFrame($file->frame()) as $other) {
            if ($other->id() !== $file->id()) {
                $this->files->change($other->id(), static function (FiledFile $other): void {
                    if (MetadataState::Written === $other->metadataState()) {
                        $other->metadataAsked();
                    }
                });
            }
        }
    }

    /** What a file, or its sidecar, says; nothing where there is none or it cannot be read. */
    private static function said(MetadataTarget $target): Metadata
    {
        // a sidecar that is not ours is another program's change, which is offered
        $path = null === $target->content ? null : $target->paths()[0] ?? null;
        try {
            return null === $path || !is_file($path) ? new Metadata() : $target->kind->read(FileBytes::open($path));
        } catch (StructureBroken|FileUnreadable) {
            return new Metadata(); // the writing says why
        }
    }
}
