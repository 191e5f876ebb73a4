<?php

declare(strict_types=1);

namespace Velvet\Core\Style;

use Velvet\Core\Metadata\Field;
use Velvet\Core\Metadata\FieldText;
use Velvet\Core\Metadata\Metadata;
use Velvet\Core\Naming\FrameNaming;
use Velvet\Core\Naming\ShootNaming;

/** What is written into every copy: texts that are filled for each frame, and keywords. */
final readonly class MetadataRules
{
    /**
     * @param array<string, FieldText> $texts    by the value of their {@see Field}
     * @param list<string>             $keywords for all frames
     * @param array<string, string>    $runs     a keyword for the frames of time-lapses, brackets and bursts, by the name of their kind
     */
    public function __construct(public array $texts = [], public array $keywords = [], public array $runs = [])
    {
    }

    public function isEmpty(): bool
    {
        return [] === $this->texts && [] === $this->keywords && [] === $this->runs;
    }

    /**
     * What a frame's files will say; empty where the style writes nothing.
     *
     * @param string $originalName   the file's name on the card, which is kept (xmpMM:PreservedFileName)
     * @param bool   $clockCorrected whether the frame's time is another than its camera's clock said
     */
    public function of(ShootNaming $shoot, FrameNaming $frame, string $originalName, bool $clockCorrected = false): Metadata
    {
        if ($this->isEmpty() && !$clockCorrected) {
            return new Metadata();
        }
        $texts = array_filter(array_map(static fn (FieldText $text): string => $text->fill($shoot, $frame), $this->texts), static fn (string $text): bool => '' !== $text);
        if (isset($texts[Field::Copyright->value])) {
            $texts[Field::CopyrightMarked->value] ??= 'true';
        }

        if ($clockCorrected && null !== $frame->shotAt) {
            $texts[Field::DateCreated->value] = $frame->shotAt->text();
        }
        $ofRun = null === $frame->run ? null : $this->runs[$frame->run->kind->name] ?? null;
        $keywords = array_values(array_unique([...$this->keywords, ...(null === $ofRun ? [] : [$ofRun])]));

        return new Metadata($texts + [Field::PreservedFileName->value => $originalName], [] === $keywords ? null : $keywords);
    }

    /** The same rules, with some texts and further keywords in their place. */
    public function with(?FieldText $creator, ?FieldText $copyright, string ...$keywords): self
    {
        return new self(array_filter(['creator' => $creator, 'copyright' => $copyright]) + $this->texts, array_values(array_unique([...$this->keywords, ...$keywords])), $this->runs);
    }
}
