<?php

declare(strict_types=1);

namespace Velvet\Core\Shoot;

/** What was typed and chosen for an entry. */
final readonly class EntryWords
{
    /**
     * @param string    $rights   the name of one of the house style's rights sets; empty: what the style says for all
     * @param list<int> $keywords ids of the catalogue's
     * @param bool      $strays   whether the frames around its time-lapse go into a folder of their own
     * @param string    $trip     that the shoot belongs to; empty for none
     * @param string    $dng      a value of {@see \Velvet\Core\Style\DngChoice}; empty: what the style says
     */
    public function __construct(
        public string $name = '',
        public string $kind = '',
        public string $client = '',
        public string $description = '',
        public string $rights = '',
        public array $keywords = [],
        public string $dng = '',
        public string $trip = '',
        public bool $strays = false,
    ) {
    }

    /** @param array<mixed> $members as JSON has them; what is missing is empty */
    public static function fromArray(array $members): self
    {
        $text = static fn (string $name): string => \is_string($members[$name] ?? null) ? $members[$name] : '';

        return new self(
            $text('name'),
            $text('kind'),
            $text('client'),
            $text('description'),
            $text('rights'),
            array_values(
                array_filter(\is_array($members['keywords'] ?? null) ? $members['keywords'] : [], is_int(...)),
            ),
            $text('dng'),
            $text('trip'),
            true === ($members['strays'] ?? false),
        );
    }

    /**
     * The same with some of them said anew.
     *
     * @param array<string, string|bool> $members
     */
    public function with(array $members): self
    {
        return self::fromArray($members + get_object_vars($this));
    }

    /** For an entry that is split off: all but what its own frames are called and are said to show. */
    public function forAnother(): self
    {
        return new self('', $this->kind, $this->client, '', $this->rights, $this->keywords, $this->dng, $this->trip);
    }

    /** Of two entries that become one: the words of the first, the other's where it has none; the keywords of both. */
    public function joined(self $other): self
    {
        return new self(
            '' === trim($this->name) ? $other->name : $this->name,
            $this->kind,
            $this->client,
            '' === trim($this->description) ? $other->description : $this->description,
            $this->rights,
            array_values(array_unique([...$this->keywords, ...$other->keywords])),
            $this->dng,
            $this->trip,
            $this->strays,
        );
    }
}
