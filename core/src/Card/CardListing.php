<?php

declare(strict_types=1);

namespace Velvet\Core\Card;

use Velvet\Core\Bytes\RunningDigests;

/** Everything that lies on a card, in the order of its paths. */
final readonly class CardListing
{
    /**
     * @param list<CardFile>    $files
     * @param list<CardProblem> $problems
     */
    public function __construct(public array $files, public array $problems)
    {
    }

    public function bytes(): int
    {
        return array_sum(array_map(static fn (CardFile $file): int => $file->bytes, $this->files));
    }

    /**
     * XXH128 of all names, sizes and times, hexadecimal: equal as long as nothing on the card is added, changed, moved
     * or removed.
     */
    public function seal(): string
    {
        $digests = new RunningDigests();
        foreach ($this->files as $file) {
            $digests->update($file->path."\0".$file->stamp."\n");
        }
        foreach ($this->problems as $problem) {
            $digests->update($problem->code."\0".$problem->path."\n");
        }

        return $digests->finished()->content->hex;
    }

    /**
     * The frames on it. What is not known by its name, or lies where cameras and computers keep things for themselves,
     * is opened: how it begins decides what it is.
     *
     * @param string $root absolute: the card's
     */
    public function frames(string $root): FrameListing
    {
        return FrameListing::of(array_map(
            static fn (CardFile $file): CardFile => self::told($file, $root),
            $this->files,
        ));
    }

    private static function told(CardFile $file, string $root): CardFile
    {
        if (MovieParts::isThumbnail($file)) {
            return $file->is(FileKind::Sidecar);
        }
        if (FileKind::Other !== $file->kind || 0 === $file->bytes || null !== Housekeeping::rule($file, $root)) {
            return $file;
        }
        $kind = Signature::kind(
            (string) @file_get_contents($root.'/'.$file->path, false, null, 0, Signature::HEAD),
        );
        $named = FileKind::ofName($file->name());

        return match (true) {
            null === $kind => $file,
            $named->isStill() || $named->isMovieOrSound() => $file->is($named),
            default => $file->is($kind),
        };
    }
}
