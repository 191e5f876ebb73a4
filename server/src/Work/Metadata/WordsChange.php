<?php

declare(strict_types=1);

namespace Velvet\Server\Work\Metadata;

use Velvet\Core\Filed\Rotation;
use Velvet\Core\Filed\Verdict;
use Velvet\Core\Keyword\KeywordPath;

/** A change of what frames say, or of the verdict on them. */
final readonly class WordsChange
{
    /**
     * @param array<string, string> $texts     by their fields; an empty one takes the field out
     * @param list<KeywordPath>     $add
     * @param list<int>             $remove    ids of keywords
     * @param int|null              $rating    null: it stays
     * @param Verdict|null          $verdict   null: it stays
     * @param list<int>             $struck    other frames, which are struck by the same stroke
     * @param list<int>             $tabs      ids of those that they get; with the words that these write
     * @param list<int>             $untab     ids of those that they lose, in the same way
     * @param Rotation|null         $rotate    of pictures, each from how it is shown
     * @param string|null           $by        who judges, in their own words; null where it is not said
     * @param string|null           $operation a UUID by which it is known when it comes a second time
     */
    public function __construct(
        public array $texts = [],
        public array $add = [],
        public array $remove = [],
        public ?int $rating = null,
        public ?Verdict $verdict = null,
        public array $struck = [],
        public array $tabs = [],
        public array $untab = [],
        public ?Rotation $rotate = null,
        public ?string $by = null,
        public ?string $operation = null,
    ) {
    }

    /** Whether files say something else by it, tabs apart. */
    public function isWritten(): bool
    {
        return [] !== $this->texts || [] !== $this->add || [] !== $this->remove || null !== $this->rating
            || null !== $this->rotate;
    }

    /** Whether it is somebody's word on how good frames are. */
    public function judges(): bool
    {
        return null !== $this->rating || null !== $this->verdict || [] !== $this->struck;
    }

    public function isOfTabs(): bool
    {
        return [] !== $this->tabs || [] !== $this->untab;
    }

    /** In words, as for *Undo keywords, rating of 3 frames*. */
    public function label(int $frames): string
    {
        $parts = array_map(
            static fn (string $field): string => str_replace('_', ' ', $field),
            array_keys($this->texts),
        );
        if ([] !== $this->add || [] !== $this->remove) {
            $parts[] = 'keywords';
        }
        if (null !== $this->rating) {
            $parts[] = 'rating';
        }
        if (null !== $this->verdict) {
            $parts[] = 'verdict';
        }
        if ($this->isOfTabs()) {
            $parts[] = 'tabs';
        }
        if (null !== $this->rotate) {
            $parts[] = 'rotation';
        }

        return \sprintf('%s of %d %s', implode(', ', $parts), $frames, 1 === $frames ? 'frame' : 'frames');
    }
}
