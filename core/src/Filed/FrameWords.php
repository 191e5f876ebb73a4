<?php

declare(strict_types=1);

namespace Velvet\Core\Filed;

use Velvet\Core\Capture\Orientation;
use Velvet\Core\Metadata\Field;
use Velvet\Core\Metadata\Metadata;

/** What is said of a filed frame: what was asked for here, and beneath it what its files said when they came. */
final readonly class FrameWords
{
    private const REJECTED = -1;

    /**
     * @param array<string, string> $says     asked for here, by the field's value; an empty text takes the field out
     * @param int|null              $rating   asked for here
     * @param Metadata              $own      what its files said themselves
     * @param list<int>             $keywords their ids, in the order in which they were given
     * @param Verdict               $verdict  of the first look
     * @param list<int>             $tabs     their ids; what they write is said by the texts and the keywords
     * @param string|null           $judgedBy who gave the verdict or the rating; null where it was not said
     */
    public function __construct(
        public int $frame,
        public array $says,
        public ?int $rating,
        public Metadata $own,
        public array $keywords,
        public Verdict $verdict = Verdict::Open,
        public array $tabs = [],
        public ?string $judgedBy = null,
    ) {
    }

    /** @return array<string, string> what a reader finds, by the field's value; no text is empty */
    public function texts(): array
    {
        return array_filter($this->says + $this->own->texts, static fn (string $text): bool => '' !== $text);
    }

    /** What a reader finds; 0 for none. */
    public function rating(): int
    {
        return $this->rating ?? $this->own->rating ?? 0;
    }

    /**
     * What its files are to say; null: what they say themselves.
     *
     * @param bool $struckToo whether a struck frame is said to be rejected, -1 (`xmp:Rating`, ISO 16684-1)
     */
    public function ratingWritten(bool $struckToo): ?int
    {
        return match (true) {
            !$struckToo => $this->rating,
            Verdict::Struck === $this->verdict => self::REJECTED,
            default => $this->rating ?? $this->own->rating,
        };
    }

    /**
     * What a rating that another program wrote means.
     *
     * @param bool $struckToo as for {@see self::ratingWritten()}
     *
     * @return array{int|null, Verdict|null} the rating and the verdict; null: as they were
     */
    public function ratedOutside(?int $rating, bool $struckToo): array
    {
        if ($struckToo && self::REJECTED === $rating) {
            return [null, Verdict::Struck];
        }

        return [
            $rating ?? (null === $this->rating ? null : 0),
            $struckToo && Verdict::Struck === $this->verdict ? Verdict::Open : null,
        ];
    }

    public function withOwn(Metadata $said): self
    {
        return new self(
            $this->frame,
            $this->says,
            $this->rating,
            $this->ownWith($said),
            $this->keywords,
            $this->verdict,
            $this->tabs,
            $this->judgedBy,
        );
    }

    /** What its files said, with what one more of them says; of two that say different things the first one holds. */
    public function ownWith(Metadata $said): Metadata
    {
        return new Metadata($this->own->texts + $said->texts, rating: $this->own->rating ?? $said->rating);
    }

    /**
     * What a change of the words is to be taken back to. What was said first by that change is in the files by now: it
     * is taken out of them again, or is again what they said themselves. How the picture is shown stays where the
     * change did not say it: another program rotated it meanwhile.
     */
    public function backTo(self $before): self
    {
        $says = $before->says;
        foreach (array_diff_key($this->says, $before->says) as $field => $text) {
            $says[$field] = Field::Orientation->value === $field ? $text : $this->own->texts[$field] ?? '';
        }

        return new self(
            $this->frame,
            $says,
            $before->rating ?? $this->own->rating ?? (null === $this->rating ? null : 0),
            $this->own,
            $before->keywords,
            $before->verdict,
            $before->tabs,
            $before->judgedBy,
        );
    }

    /** How its picture is shown since it was rotated; null where it is shown as it came. */
    public function shown(): ?Orientation
    {
        return Orientation::tryFrom((int) ($this->says[Field::Orientation->value] ?? ''));
    }

    /** The same, and how its picture is shown is said. */
    public function shownAs(Orientation $shown): self
    {
        return new self(
            $this->frame,
            [Field::Orientation->value => (string) $shown->value] + $this->says,
            $this->rating,
            $this->own,
            $this->keywords,
            $this->verdict,
            $this->tabs,
            $this->judgedBy,
        );
    }

    /** The same frame, of which is said what was said at another time. */
    public function saying(self $words): self
    {
        return new self(
            $this->frame,
            $words->says,
            $words->rating,
            $this->own,
            $words->keywords,
            $words->verdict,
            $words->tabs,
            $words->judgedBy,
        );
    }

    /**
     * Whether files that say the one say the other.
     *
     * @param bool $struckToo as for {@see self::ratingWritten()}
     */
    public function readsAs(self $other, bool $struckToo): bool
    {
        return $this->texts() === $other->texts()
            && ($this->ratingWritten($struckToo) ?? $this->rating())
                === ($other->ratingWritten($struckToo) ?? $other->rating())
            && $this->keywords === $other->keywords;
    }
}
