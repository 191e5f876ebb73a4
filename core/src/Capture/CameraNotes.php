<?php

declare(strict_types=1);

namespace Velvet\Core\Capture;

/** What the camera noted beside: whose the picture is, where, how good, the how manyth. What it did not is null. */
final readonly class CameraNotes
{
    /**
     * @param int<0, 5>|null           $rating      stars given in the camera
     * @param array{float, float}|null $place       latitude and longitude in degrees, north and east positive
     * @param int|null                 $imageNumber the camera's own count of its pictures
     * @param list<string>             $fromNote    facts that are known from the maker's note alone: serial, lens, iso,
     *                                              rating
     * @param array{float, float}|null $focus       where the camera focused, as shares of width and height, from the
     *                                              left and the top of the picture as it is stored
     */
    public function __construct(
        public ?int $rating = null,
        public ?array $place = null,
        public ?string $artist = null,
        public ?string $copyright = null,
        public ?int $imageNumber = null,
        public array $fromNote = [],
        public ?array $focus = null,
    ) {
    }

    /** The same, where this is known from the maker's note, too. */
    public function knowing(string $fact): self
    {
        return new self(
            $this->rating,
            $this->place,
            $this->artist,
            $this->copyright,
            $this->imageNumber,
            array_values(array_unique([...$this->fromNote, $fact])),
            $this->focus,
        );
    }

    /** @param int<0, 5>|null $rating */
    public function rated(?int $rating): self
    {
        return new self(
            $rating,
            $this->place,
            $this->artist,
            $this->copyright,
            $this->imageNumber,
            $this->fromNote,
            $this->focus,
        );
    }
}
