<?php

declare(strict_types=1);

namespace Velvet\Core\Style;

use Velvet\Core\Keyword\KeywordPath;
use Velvet\Core\Keyword\KeywordTree;
use Velvet\Core\Metadata\Field;
use Velvet\Core\Metadata\FieldText;
use Velvet\Core\Metadata\Metadata;
use Velvet\Core\Naming\FrameNaming;
use Velvet\Core\Plan\EntryToFile;

/** What is written into every copy: texts that are filled for each frame, and keywords. */
final readonly class MetadataRules
{
    /**
     * @param array<string, FieldText>                $texts    by the value of their {@see Field}
     * @param list<KeywordPath>                       $keywords for all frames
     * @param array<string, KeywordPath>              $runs     a keyword for the frames of time-lapses, brackets and bursts, by the name of their kind
     * @param array<string, array<string, FieldText>> $rights   sets of texts, by their names, that an entry may choose; they stand over `texts`
     */
    public function __construct(public array $texts = [], public array $keywords = [], public array $runs = [], public array $rights = [], public SidecarName $sidecars = SidecarName::Stem)
    {
    }

    /**
     * What a frame's file will say; empty where neither the style nor the entry says anything.
     *
     * @param string $originalName   the file's name on the card, which is kept (xmpMM:PreservedFileName)
     * @param bool   $clockCorrected whether the frame's time is another than its camera's clock said
     */
    public function of(EntryToFile $entry, string $initials, FrameNaming $frame, string $originalName, bool $clockCorrected, KeywordTree $catalogue): Metadata
    {
        $texts = $this->textsOf($entry, $initials, $frame);
        $keywords = $this->keywordsOf($entry, $frame, $catalogue);
        if ([] === $texts && [] === $keywords && !$clockCorrected) {
            return new Metadata();
        }
        [$flat, $nested] = $catalogue->written($keywords);

        return new Metadata($texts + self::ofFile($frame, $originalName, $clockCorrected), [] === $flat ? null : $flat, $nested);
    }

    /** @return array<string, string> filled, by the value of their {@see Field} */
    public function textsOf(EntryToFile $entry, string $initials, FrameNaming $frame): array
    {
        $shoot = $entry->naming($initials);
        $texts = array_map(static fn (FieldText $text): string => $text->fill($shoot, $frame), ($this->rights[$entry->rights] ?? []) + $this->texts);
        if ('' !== trim($entry->description)) {
            $texts[Field::Description->value] = trim(Metadata::clean($entry->description));
        }
        $texts = array_filter($texts, static fn (string $text): bool => '' !== $text);
        if (isset($texts[Field::Copyright->value])) {
            $texts[Field::CopyrightMarked->value] ??= 'true';
        }

        return $texts;
    }

    /** @return list<KeywordPath> all that it may give to a frame of these entries */
    public function keywordsFor(EntryToFile ...$entries): array
    {
        $ofEntries = array_merge([], ...array_map(static fn (EntryToFile $entry): array => $entry->keywords, array_values($entries)));

        return [...$this->keywords, ...array_values($this->runs), ...$ofEntries];
    }

    /** @return list<KeywordPath> those of the style, of the run that the frame is in, and of the entry; each once */
    public function keywordsOf(EntryToFile $entry, FrameNaming $frame, KeywordTree $catalogue): array
    {
        $ofRun = null === $frame->run ? null : $this->runs[$frame->run->kind->name] ?? null;
        $keywords = [];
        foreach ([...$this->keywords, ...(null === $ofRun ? [] : [$ofRun]), ...$entry->keywords] as $path) {
            $placed = $catalogue->placed($path);
            $keywords[$placed->key()] ??= $placed;
        }

        return array_values($keywords);
    }

    /** @return array<string, string> what is said of each file of its own, by the value of their {@see Field} */
    public static function ofFile(FrameNaming $frame, string $originalName, bool $clockCorrected): array
    {
        return ($clockCorrected && null !== $frame->shotAt ? [Field::DateCreated->value => $frame->shotAt->text()] : []) + [Field::PreservedFileName->value => $originalName];
    }

    /** The same rules, with some texts and further keywords in their place. */
    public function with(?FieldText $creator, ?FieldText $copyright, KeywordPath ...$keywords): self
    {
        return new self(array_filter(['creator' => $creator, 'copyright' => $copyright]) + $this->texts, [...$this->keywords, ...array_values($keywords)], $this->runs, $this->rights, $this->sidecars);
    }
}
