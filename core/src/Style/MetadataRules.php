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
     */
    public function __construct(public array $texts = [], public array $keywords = [])
    {
    }

    public function isEmpty(): bool
    {
        return [] === $this->texts && [] === $this->keywords;
    }

    /**
     * What a frame's files will say; empty where the style writes nothing.
     *
     * @param string $originalName the file's name on the card, which is kept (xmpMM:PreservedFileName)
     */
    public function of(ShootNaming $shoot, FrameNaming $frame, string $originalName): Metadata
    {
        if ($this->isEmpty()) {
            return new Metadata();
        }
        $texts = array_filter(array_map(static fn (FieldText $text): string => $text->fill($shoot, $frame), $this->texts), static fn (string $text): bool => '' !== $text);
        if (isset($texts[Field::Copyright->value])) {
            $texts[Field::CopyrightMarked->value] ??= 'true';
        }

        return new Metadata($texts + [Field::PreservedFileName->value => $originalName], [] === $this->keywords ? null : $this->keywords);
    }

    /** The same rules, with some texts and further keywords in their place. */
    public function with(?FieldText $creator, ?FieldText $copyright, string ...$keywords): self
    {
        return new self(array_filter(['creator' => $creator, 'copyright' => $copyright]) + $this->texts, array_values(array_unique([...$this->keywords, ...$keywords])));
    }
}
