<?php

declare(strict_types=1);

namespace Velvet\Server\Work\Metadata;

use Velvet\Core\Bytes\FileBytes;
use Velvet\Core\Bytes\FileUnreadable;
use Velvet\Core\Bytes\StructureBroken;
use Velvet\Core\Copy\Transfer;
use Velvet\Core\Filed\FiledFile;
use Velvet\Core\Filed\FrameWords;
use Velvet\Core\Filed\MetadataState;
use Velvet\Core\Filed\MetadataTarget;
use Velvet\Core\Keyword\KeywordTree;
use Velvet\Core\Metadata\Metadata;
use Velvet\Core\Metadata\SidecarFile;
use Velvet\Core\Plan\PlannedWords;
use Velvet\Core\Style\SidecarName;
use Velvet\Server\Store\FiledFiles;
use Velvet\Server\Store\FiledFrames;
use Velvet\Server\Store\Intake;
use Velvet\Server\Store\Transfers;
use Velvet\Server\Work\Keywords\Keywords;

/** What filed frames say: what was asked for here, and beneath it what their files said themselves when they came. */
final readonly class FrameMetadata
{
    public function __construct(
        private FiledFrames $frames,
        private Keywords $keywords,
        private FiledFiles $files,
        private Transfers $transfers,
    ) {
    }

    /** What is to be written into a file of a frame. */
    public function of(FiledFile $file): Metadata
    {
        $this->takeOwn($file->frame());
        $words = $this->frames->words($file->frame());
        $struckToo = [] !== $this->frames->writingStruck([$file->frame()]);
        $said = self::said($words, $file->ofFile(), $this->keywords->about($words->keywords), $struckToo);

        // what was rejected before and has no stars of its own is not rejected any more
        return $struckToo && null === $said->rating && $file->isWrittenInto()
            ? new Metadata($said->texts, $said->keywords, $said->paths, 0)
            : $said;
    }

    /**
     * What files that are about to be copied are to say, as their frames are known by now.
     *
     * @param non-empty-list<Transfer> $transfers of the intake
     */
    public function onTheWay(Intake $intake, array $transfers): WordsOnTheWay
    {
        $frames = array_values(array_unique(array_map(static fn (Transfer $one): int => $one->frame(), $transfers)));
        $words = array_map(
            static fn (PlannedWords $planned): FrameWords => new FrameWords(
                0,
                $planned->says,
                null,
                new Metadata(),
                $planned->keywords,
            ),
            $this->transfers->wordsOfFrames($intake->id(), $frames),
        );
        foreach ($this->transfers->filedFrames($intake->id(), $frames) as $frame => $filed) {
            $words[$frame] = $this->frames->words($filed);
        }

        return new WordsOnTheWay(
            $this->keywords,
            $words,
            $intake->startedAt ?? $intake->openedAt,
            $intake->writesStruck(),
        );
    }

    /**
     * @param array<string, string> $ofFile what is said of the file alone, by the field's value
     * @param KeywordTree           $tree   of which the frame's keywords are
     * @param bool                  $struckToo as for {@see FrameWords::ratingWritten()}
     */
    public static function said(FrameWords $words, array $ofFile, KeywordTree $tree, bool $struckToo): Metadata
    {
        [$flat, $nested] = $tree->written(array_map($tree->path(...), $words->keywords));

        return new Metadata($words->says + $ofFile, $flat, $nested, $words->ratingWritten($struckToo));
    }

    /**
     * What the files of a frame say themselves, each taken in once, before anything of ours is written into it: their
     * keywords become the frame's.
     */
    public function takeOwn(int $frameId): void
    {
        foreach ($this->files->notAsked($frameId) as $file) {
            $said = self::saidBy(MetadataTarget::of($file, $this->files->places($file), SidecarName::Stem));
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
            $this->frames->keepOwn([$words->frame => $words->ownWith($said)]);
        }
        $this->frames->give([$file->frame()], $ids);
        if ([] !== $ids) {
            $this->askOthers($file);
        }
    }

    /** Files of a frame that were written before this one came get its keywords, too. */
    public function askOthers(FiledFile $file): void
    {
        foreach ($this->files->ofFrame($file->frame()) as $other) {
            if ($other->id() !== $file->id()) {
                $this->files->change($other->id(), static function (FiledFile $other): void {
                    if (MetadataState::Written === $other->metadataState()) {
                        $other->metadataAsked();
                    }
                });
            }
        }
    }

    /** What a file, its sidecar, or the packet in it says; nothing where there is none or it cannot be read. */
    private static function saidBy(MetadataTarget $target): Metadata
    {
        // a sidecar that is not ours is another program's change, which is offered
        $path = null === $target->content ? null : $target->paths()[0] ?? null;
        try {
            $packet = null === $path ? $target->packetOfPicture() : null;
            if (null !== $packet) {
                return SidecarFile::said($packet);
            }

            return null === $path || !is_file($path) ? new Metadata() : $target->kind->read(FileBytes::open($path));
        } catch (StructureBroken|FileUnreadable) {
            return new Metadata(); // the writing says why
        }
    }
}
