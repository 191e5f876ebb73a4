<?php

declare(strict_types=1);

namespace Velvet\Core\Plan;

/** What a planned file can hold and will say: of its frame, and of itself alone. */
final readonly class PlannedWords
{
    /**
     * @param array<string, string> $says     of the frame, by the value of their {@see \Velvet\Core\Metadata\Field}
     * @param list<int>             $keywords of the frame: ids of the catalogue's
     * @param array<string, string> $ofFile   of the file alone
     * @param int                   $clock    seconds by which the camera's clock is corrected
     */
    public function __construct(
        public array $says = [],
        public array $keywords = [],
        public array $ofFile = [],
        public int $clock = 0,
    ) {
    }

    /** Whether anything is to be written into the file. */
    public function wait(): bool
    {
        return [] !== $this->says || [] !== $this->keywords || 0 !== $this->clock;
    }

    /** @return array<string, mixed> as it is kept with the file on its way */
    public function toArray(): array
    {
        return [
            'says' => $this->says, 'keywords' => $this->keywords, 'of_file' => $this->ofFile,
            'clock' => $this->clock,
        ];
    }

    /** @param array<mixed> $members as {@see self::toArray()} made them */
    public static function fromArray(array $members): self
    {
        $list = static fn (string $name): array => \is_array($members[$name] ?? null) ? $members[$name] : [];
        $texts = static function (string $name) use ($list): array {
            $texts = [];
            foreach ($list($name) as $field => $text) {
                if (\is_string($text)) {
                    $texts[(string) $field] = $text;
                }
            }

            return $texts;
        };

        return new self(
            $texts('says'),
            array_values(array_filter($list('keywords'), is_int(...))),
            $texts('of_file'),
            \is_int($members['clock'] ?? null) ? $members['clock'] : 0,
        );
    }
}
