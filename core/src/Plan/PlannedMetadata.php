<?php

declare(strict_types=1);

namespace Velvet\Core\Plan;

use Velvet\Core\Keyword\KeywordPath;
use Velvet\Core\Keyword\KeywordTree;
use Velvet\Core\Metadata\Field;
use Velvet\Core\Metadata\FieldText;
use Velvet\Core\Metadata\Metadata;
use Velvet\Core\Naming\FrameNaming;
use Velvet\Core\Style\HouseStyle;

/** What the files of frames will say, by the house style and their entry. */
final readonly class PlannedMetadata
{
    /** @param KeywordTree $catalogue that has to do with {@see self::mayGive()} */
    public function __construct(private HouseStyle $style, private KeywordTree $catalogue)
    {
    }

    /** @return list<KeywordPath> all that may be given to a frame of these entries */
    public static function mayGive(HouseStyle $style, EntryToFile ...$entries): array
    {
        $ofEntries = array_map(static fn (EntryToFile $entry): array => $entry->keywords, array_values($entries));

        return [
            ...$style->metadata->keywords,
            ...array_values($style->metadata->runs),
            ...array_merge([], ...$ofEntries),
        ];
    }

    /**
     * What a frame's file will say; empty where neither the style nor the entry says anything.
     *
     * @param string $originalName   the file's name on the card, which is kept (xmpMM:PreservedFileName)
     * @param bool   $clockCorrected whether the frame's time is another than its camera's clock said
     */
    public function of(EntryToFile $entry, FrameNaming $frame, string $originalName, bool $clockCorrected): Metadata
    {
        $texts = $this->texts($entry, $frame);
        $keywords = $this->keywords($entry, $frame);
        if ([] === $texts && [] === $keywords && !$clockCorrected) {
            return new Metadata();
        }
        [$flat, $nested] = $this->catalogue->written($keywords);

        return new Metadata(
            $texts + self::ofFile($frame, $originalName, $clockCorrected),
            [] === $flat ? null : $flat,
            $nested,
        );
    }

    /** @return array<string, string> filled, by the value of their {@see Field} */
    public function texts(EntryToFile $entry, FrameNaming $frame): array
    {
        $rules = $this->style->metadata;
        $shoot = $entry->naming($this->style->initials);
        $texts = array_map(
            static fn (FieldText $text): string => $text->fill($shoot, $frame),
            ($rules->rights[$entry->rights] ?? []) + $rules->texts,
        );
        if ('' !== trim($entry->description)) {
            $texts[Field::Description->value] = trim(Metadata::clean($entry->description));
        }
        $texts = array_filter($texts, static fn (string $text): bool => '' !== $text);
        if (isset($texts[Field::Copyright->value])) {
            $texts[Field::CopyrightMarked->value] ??= 'true';
        }

        return $texts;
    }

    /** @return list<KeywordPath> those of the style, of the run that the frame is in, and of the entry; each once */
    public function keywords(EntryToFile $entry, FrameNaming $frame): array
    {
        $rules = $this->style->metadata;
        $ofRun = null === $frame->run ? null : $rules->runs[$frame->run->kind->name] ?? null;
        $keywords = [];
        foreach ([...$rules->keywords, ...(null === $ofRun ? [] : [$ofRun]), ...$entry->keywords] as $path) {
            $placed = $this->catalogue->placed($path);
            $keywords[$placed->key()] ??= $placed;
        }

        return array_values($keywords);
    }

    /** @return array<string, string> what is said of each file of its own, by the value of their {@see Field} */
    public static function ofFile(FrameNaming $frame, string $originalName, bool $clockCorrected): array
    {
        $corrected = $clockCorrected && null !== $frame->shotAt
            ? [Field::DateCreated->value => $frame->shotAt->text()]
            : [];

        return $corrected + [Field::PreservedFileName->value => $originalName];
    }
}
