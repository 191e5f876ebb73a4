<?php

declare(strict_types=1);

namespace Velvet\Core\Keyword;

/** A keyword of the catalogue. */
final readonly class Keyword
{
    /**
     * @param int|null     $above      the id of the keyword that it lies beneath
     * @param bool         $heading    only orders those beneath it and is never written
     * @param bool         $private    stays in the catalogue and is never written
     * @param bool         $withAbove  whether those above it are written with it
     * @param list<string> $synonyms   other words by which it is found; they are not written
     * @param int          $uses       frames that have it
     * @param int          $lastUsed   Unix seconds; 0 for never
     */
    public function __construct(
        public int $id,
        public ?int $above,
        public string $name,
        public bool $heading = false,
        public bool $private = false,
        public bool $withAbove = true,
        public array $synonyms = [],
        public int $uses = 0,
        public int $lastUsed = 0,
    ) {
    }

    /** With the synonyms and marks that a list gives it; none is taken away. */
    public function with(ListedKeyword $listed): self
    {
        return new self(
            $this->id,
            $this->above,
            $this->name,
            $this->heading || $listed->heading,
            $this->private || $listed->private,
            $this->withAbove && $listed->withAbove,
            array_values(array_unique([...$this->synonyms, ...$listed->synonyms])),
            $this->uses,
            $this->lastUsed,
        );
    }

    /**
     * Found by further words.
     *
     * @param list<string> $words
     */
    public function foundBy(array $words): self
    {
        $others = array_filter(
            [...$this->synonyms, ...$words],
            fn (string $word): bool => KeywordPath::folded($word) !== KeywordPath::folded($this->name),
        );

        return new self(
            $this->id,
            $this->above,
            $this->name,
            $this->heading,
            $this->private,
            $this->withAbove,
            array_values(array_unique($others)),
            $this->uses,
            $this->lastUsed,
        );
    }

    /** Whether files that have it say the same of it; by synonyms it is only found. */
    public function isWrittenLike(self $other): bool
    {
        return [$this->name, $this->above, $this->heading, $this->private, $this->withAbove]
            === [$other->name, $other->above, $other->heading, $other->private, $other->withAbove];
    }
}
