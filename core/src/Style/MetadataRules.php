<?php

declare(strict_types=1);

namespace Velvet\Core\Style;

use Velvet\Core\Keyword\KeywordPath;
use Velvet\Core\Metadata\Field;
use Velvet\Core\Metadata\FieldText;

/** What is written into every copy: texts that are filled for each frame, and keywords. */
final readonly class MetadataRules
{
    /**
     * @param array<string, FieldText>                $texts    by the value of their {@see Field}
     * @param list<KeywordPath>                       $keywords for all frames
     * @param array<string, KeywordPath>              $runs     a keyword for the frames of time-lapses, brackets and
     *                                                          bursts, by the name of their kind
     * @param array<string, array<string, FieldText>> $rights   sets of texts, by their names, that an entry may choose;
     *                                                          they stand over `texts`
     * @param bool                                    $writesStruck whether files of a struck frame get the rating -1
     */
    public function __construct(
        public array $texts = [],
        public array $keywords = [],
        public array $runs = [],
        public array $rights = [],
        public SidecarName $sidecars = SidecarName::Stem,
        public bool $writesStruck = false,
    ) {
    }

    /** The same rules, with some texts and further keywords in their place. */
    public function with(?FieldText $creator, ?FieldText $copyright, KeywordPath ...$keywords): self
    {
        return new self(
            array_filter(['creator' => $creator, 'copyright' => $copyright]) + $this->texts,
            [...$this->keywords, ...array_values($keywords)],
            $this->runs,
            $this->rights,
            $this->sidecars,
            $this->writesStruck,
        );
    }
}
