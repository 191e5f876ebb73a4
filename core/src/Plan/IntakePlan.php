<?php

declare(strict_types=1);

namespace Velvet\Core\Plan;

use Velvet\Core\Card\CardFile;
use Velvet\Core\Card\FileKind;
use Velvet\Core\Naming\CountersSoFar;
use Velvet\Core\Naming\FrameFileNames;
use Velvet\Core\Naming\FreshCounters;
use Velvet\Core\Naming\LetterCase;
use Velvet\Core\Naming\LooseNames;
use Velvet\Core\Naming\PieceKind;
use Velvet\Core\Naming\PortableName;
use Velvet\Core\Naming\Stems;
use Velvet\Core\Style\DngChoice;
use Velvet\Core\Style\HouseStyle;
use Velvet\Core\Style\Pairs;
use Velvet\Core\Style\Subfolders;

/**
 * What an intake will do, settled before a byte is copied. The sheet shows this plan, the headless `plan` prints it and
 * the copy carries it out: there is no other place that names a file.
 */
final readonly class IntakePlan
{
    /**
     * @param list<PlannedEntry> $entries
     * @param bool               $saysNames whether the names of folders or files say what an entry is called
     */
    private function __construct(public array $entries, private bool $saysNames)
    {
    }

    /** @param list<EntryToFile> $entries */
    public static function of(
        array $entries,
        ShelfFolders $shelf,
        HouseStyle $style,
        CountersSoFar $counters = new FreshCounters(),
    ): self {
        $entries = array_map(static fn (EntryToFile $entry): EntryToFile => $entry->inRuns($style), $entries);
        $shoots = $folders = $subfolders = [];
        foreach ($entries as $i => $entry) {
            $shoots[$i] = $entry->naming($style->initials);
            $folders[$i] = $entry->intoFolder
                ?? self::filedFolder($entry, $style)
                ?? $style->folder->path($shoots[$i]);
            $subfolders[PortableName::folded($folders[$i])][] = self::subfoldersOf($entry, $style);
        }
        $repaired = self::repaired($entries);
        $stems = new Stems(
            static fn (string $folder): array => [
                ...self::namesIn(
                    $folder,
                    array_merge(['' => true], ...$subfolders[PortableName::folded($folder)] ?? []),
                    $shelf,
                ),
                ...$repaired,
            ],
            $counters,
        );
        $loose = new LooseNames($shelf->namesIn(...));
        $slots = OtherSlots::of(...array_map(static fn (EntryToFile $entry): array => $entry->frames, $entries));
        $planned = [];
        $seen = SeenOnSheet::of(...array_map(static fn (EntryToFile $entry): array => $entry->frames, $entries));
        foreach ($entries as $i => $entry) {
            [$shoot, $folder] = [$shoots[$i], $folders[$i]];
            $names = [];
            $frames = [];
            $strays = $entry->strays();
            foreach ($entry->frames as $place => $frame) {
                if (FrameState::New !== $frame->state) {
                    $frames[] = new PlannedFrame($frame, [], []);
                    continue;
                }
                $taken = self::taken($frame, $style);
                if ([] === $taken) {
                    $frames[] = new PlannedFrame($frame->leftOut(), [], []);
                    continue;
                }
                $along = $frame->without($taken, $frame->sameAs);
                $equals = $seen->equals($frame, $along);
                if ([] === $along || [] !== $equals) {
                    $frames[] = new PlannedFrame($frame, [], $along, equals: $equals);
                    continue;
                }
                $fresh = $frame->without($along, $frame->repairs);
                if ($frame->isLoose()) {
                    $to = self::looseNames($frame, $along, $fresh, $folder.'/'.$style->subfolders->loose, $loose);
                    $frames[] = new PlannedFrame($frame, $to, $along, filedAs: $to);
                    continue;
                }
                $leading = $frame->files[0]->kind;
                $pattern = $leading->isMovieOrSound() ? 'movie' : 'picture';
                $names[$pattern] ??= $style->fileOf($leading)->in($shoot);
                $apart = $style->pairs->apart($fresh);
                $half = Pairs::Apart === $style->pairs ? null : $slots->half($folder, $frame, $fresh);
                [$stem, $number, $collided] = match (true) {
                    [] === $fresh => ['', null, false],
                    null !== $half => [$half->stem, $half->number, false],
                    default => $stems->next($folder, $shoot, $names[$pattern], $frame->naming),
                };
                $slots->add($folder, $frame, $fresh, $stem, $number);
                [$apartStem, $apartNumber] = [] === $apart
                    ? ['', null]
                    : $stems->next($folder, $shoot, $names[$pattern], $frame->naming);
                $fileNames = self::fileNames($fresh, $stem, $apart, $apartStem, $style->extension);
                $to = [];
                $named = 0;
                foreach ($along as $file) {
                    // the fresh ones among them come in the same order
                    $to[] = $file !== ($fresh[$named] ?? null)
                        ? (string) $frame->repairs[$frame->placeOf($file)]
                        : $folder.'/'.(
                            isset($strays[$place])
                                ? Subfolders::STRAYS.'/'
                                : $style->subfolders->of($file->kind, $leading, $frame->naming->run)
                        ).$fileNames[$named++];
                }
                $dng = $entry->dng ?? $style->dng;
                $kinds = [];
                $bytesOfDng = 0;
                foreach (DngChoice::No === $dng ? [] : $along as $file) {
                    // a copy that is put right stays what it is
                    $kinds[] = $kind = \in_array($file, $fresh, true) ? $file->kind : null;
                    $bytesOfDng += FileKind::Raw === $kind ? $dng->mostBytes($file->bytes) : 0;
                }
                $frames[] = new PlannedFrame(
                    $frame,
                    $to,
                    $along,
                    $number,
                    $collided,
                    filedAs: $dng->filedAs($to, $kinds, $style->extension),
                    bytesOfDng: $bytesOfDng,
                    filedWith: $half?->frame,
                    apart: $apart,
                    apartNumber: $apartNumber,
                );
                $seen->add($frame, $along, $to);
            }
            $planned[] = new PlannedEntry($entry, $folder, $frames);
        }

        return new self($planned, $style->says(PieceKind::ShootName));
    }

    /**
     * Where the frames of an entry are filed that has nothing new but loose files: these join them. Null for others.
     */
    private static function filedFolder(EntryToFile $entry, HouseStyle $style): ?string
    {
        $filed = null;
        foreach ($entry->frames as $frame) {
            if ($frame->isLoose()) {
                return null === $filed ? null : $style->subfolders->shootOf(\dirname($filed)); // they come last
            }
            if (FrameState::Filed !== $frame->state) {
                return null;
            }
            $filed = array_values(array_filter($frame->sameAs, is_string(...)))[0] ?? $filed;
        }

        return null;
    }

    /**
     * @param list<CardFile> $along
     * @param list<CardFile> $fresh  of these, those that repair nothing
     *
     * @return list<string> a name for each that comes along
     */
    private static function looseNames(
        FrameToFile $frame,
        array $along,
        array $fresh,
        string $folder,
        LooseNames $names,
    ): array {
        $to = [];
        $named = 0;
        foreach ($along as $file) {
            if ($file === ($fresh[$named] ?? null)) {
                ++$named;
                $to[] = $names->next($folder, $frame->naming->cardLabel, $file->path);
            } else {
                $to[] = (string) $frame->repairs[$frame->placeOf($file)];
            }
        }

        return $to;
    }

    /** @return list<CardFile> of a frame, what is wanted by the style */
    private static function taken(FrameToFile $frame, HouseStyle $style): array
    {
        return $frame->isLoose()
            ? ($style->loose ? $frame->readable() : [])
            : $style->kinds->of($frame->files, $style->companions);
    }

    /**
     * @param list<CardFile> $files of a frame
     * @param list<CardFile> $apart of these, those that are filed as another frame
     *
     * @return list<string> a name for each file
     */
    private static function fileNames(
        array $files,
        string $stem,
        array $apart,
        string $apartStem,
        LetterCase $extension,
    ): array {
        if ([] === $apart) {
            return FrameFileNames::of($stem, $files, $extension);
        }
        $isApart = static fn (CardFile $file): bool => \in_array($file, $apart, true);
        $together = array_values(array_filter($files, static fn (CardFile $file): bool => !$isApart($file)));
        $ofFrame = FrameFileNames::of($stem, $together, $extension);
        $ofApart = FrameFileNames::of($apartStem, $apart, $extension);
        $names = [];
        foreach ($files as $file) {
            $names[] = (string) ($isApart($file) ? array_shift($ofApart) : array_shift($ofFrame));
        }

        return $names;
    }

    /** @return list<int> the numbers of the entries that copy something and must be given a name before */
    public function unnamed(): array
    {
        $unnamed = array_filter(
            $this->entries,
            fn (PlannedEntry $planned): bool => $this->saysNames
                && '' === trim($planned->entry->name)
                && null === $planned->entry->intoFolder
                && null !== $planned->sample()
                && !$planned->copiesLooseFilesOnly(),
        );

        return array_values(array_map(static fn (PlannedEntry $planned): int => $planned->entry->number, $unnamed));
    }

    public function copiesAnything(): bool
    {
        return [] !== array_filter(
            $this->entries,
            static fn (PlannedEntry $planned): bool => null !== $planned->sample(),
        );
    }

    /** Files of no frame that are copied. */
    public function looseFiles(): int
    {
        return $this->sum(
            static fn (PlannedFrame $frame): int => $frame->frame->isLoose() ? \count($frame->to) : 0,
        );
    }

    /** Frames that will be filed. */
    public function frames(): int
    {
        return $this->sum(static fn (PlannedFrame $frame): int => $frame->frames());
    }

    /** Whether the ledger has any of its frames already. */
    public function isFiled(): bool
    {
        return 0 < $this->sum(static fn (PlannedFrame $frame): int => FrameState::Filed === $frame->state() ? 1 : 0);
    }

    /** Bytes that will be copied to each destination. */
    public function bytes(): int
    {
        return $this->sum(static fn (PlannedFrame $frame): int => $frame->bytes());
    }

    /** Bytes that each destination must have room for, DNGs included. */
    public function room(): int
    {
        return $this->sum(static fn (PlannedFrame $frame): int => $frame->bytes() + $frame->bytesOfDng);
    }

    /** @param \Closure(PlannedFrame): int $of */
    private function sum(\Closure $of): int
    {
        return array_sum(
            array_map(
                static fn (PlannedEntry $entry): int => array_sum(array_map($of, $entry->frames)),
                $this->entries,
            ),
        );
    }

    /**
     * @param list<EntryToFile> $entries
     *
     * @return list<string> names of filed copies that are put right: no other frame gets them
     */
    private static function repaired(array $entries): array
    {
        $names = [];
        foreach ($entries as $entry) {
            foreach ($entry->frames as $frame) {
                foreach (array_filter($frame->repairs, is_string(...)) as $path) {
                    $names[] = basename($path);
                }
            }
        }

        return $names;
    }

    /** @return array<string, true> the subfolders that an entry's files go to, each with a trailing `/` */
    private static function subfoldersOf(EntryToFile $entry, HouseStyle $style): array
    {
        $subfolders = $entry->straysAside ? [Subfolders::STRAYS.'/' => true] : [];
        foreach ($entry->frames as $frame) {
            foreach ($frame->files as $file) {
                $subfolders[$style->subfolders->of($file->kind, $frame->files[0]->kind, $frame->naming->run)] = true;
            }
        }

        return $subfolders;
    }

    /**
     * @param array<string, true> $subfolders
     *
     * @return list<string> names in a shoot's folder and in those of its subfolders
     */
    private static function namesIn(string $folder, array $subfolders, ShelfFolders $shelf): array
    {
        $names = [];
        foreach (array_keys($subfolders) as $subfolder) {
            $names = [...$names, ...$shelf->namesIn(rtrim($folder.'/'.$subfolder, '/'))];
        }

        return $names;
    }
}
