<?php

declare(strict_types=1);

namespace Velvet\Core\Metadata;

/** What is to be written to a file, or was read from one. A field that is not there is left as the file has it. */
final readonly class Metadata
{
    /**
     * @param array<string, string>               $texts    by the value of their {@see Field}; an empty text takes the
     *                                                      field out
     * @param list<string>|null                   $keywords as they are written flat; null leaves them alone
     * @param list<non-empty-list<string>>        $paths    nested keywords, outermost first
     * @param int|null                            $rating   1 to 5, 0 for none, -1 for rejected (ISO 16684-1,
     *                                                      xmp:Rating)
     */
    public function __construct(
        public array $texts = [],
        public ?array $keywords = null,
        public array $paths = [],
        public ?int $rating = null,
    ) {
    }

    public function text(Field $field): ?string
    {
        return $this->texts[$field->value] ?? null;
    }

    public function isEmpty(): bool
    {
        return [] === $this->texts && null === $this->keywords && [] === $this->paths && null === $this->rating;
    }

    /** Whether the same would be written; texts have no order. */
    public function equals(self $other): bool
    {
        [$own, $others] = [$this->texts, $other->texts];
        ksort($own);
        ksort($others);

        return $own === $others && $this->keywords === $other->keywords && $this->paths === $other->paths
            && $this->rating === $other->rating;
    }

    /**
     * As it is kept with a frame or a file.
     *
     * @param array<mixed> $members `texts`, `keywords`, `paths` and `rating`, each of which may be missing
     */
    public static function fromArray(array $members): self
    {
        $texts = [];
        foreach (\is_array($members['texts'] ?? null) ? $members['texts'] : [] as $field => $text) {
            if (\is_string($text)) {
                $texts[(string) $field] = $text;
            }
        }
        $words = static fn (mixed $list): array => array_values(
            array_filter(\is_array($list) ? $list : [], is_string(...)),
        );
        $paths = array_values(
            array_filter(
                array_map($words, \is_array($members['paths'] ?? null) ? $members['paths'] : []),
                static fn (array $path): bool => [] !== $path,
            ),
        );

        return new self(
            $texts,
            isset($members['keywords']) ? $words($members['keywords']) : null,
            $paths,
            \is_int($members['rating'] ?? null) ? $members['rating'] : null,
        );
    }

    /**
     * Where two differ.
     *
     * @return list<array{field: string, ours: string, theirs: string}> in the order of the fields; then `keywords` and
     *     `rating`
     */
    public function differences(self $other): array
    {
        $differences = [];
        foreach (Field::cases() as $field) {
            if (($this->text($field) ?? '') !== ($other->text($field) ?? '')) {
                $differences[] = [
                    'field' => $field->value,
                    'ours' => $this->text($field) ?? '',
                    'theirs' => $other->text($field) ?? '',
                ];
            }
        }
        [$own, $others] = [$this->keywords ?? [], $other->keywords ?? []];
        if ([] !== array_diff($own, $others) || [] !== array_diff($others, $own)) {
            $differences[] = ['field' => 'keywords', 'ours' => implode(', ', $own), 'theirs' => implode(', ', $others)];
        }
        if (($this->rating ?? 0) !== ($other->rating ?? 0)) {
            $differences[] = [
                'field' => 'rating',
                'ours' => (string) ($this->rating ?? 0),
                'theirs' => (string) ($other->rating ?? 0),
            ];
        }

        return $differences;
    }

    /**
     * @return array{texts: list<array{field: string, text: string}>, keywords: list<string>} in the order of the fields
     */
    public function toArray(): array
    {
        $texts = [];
        foreach (Field::cases() as $field) {
            if (isset($this->texts[$field->value])) {
                $texts[] = ['field' => $field->value, 'text' => $this->texts[$field->value]];
            }
        }

        return ['texts' => $texts, 'keywords' => $this->keywords ?? []];
    }

    /**
     * Text as every standard can hold it: Unicode NFC, without the characters that XML 1.0 forbids (its section 2.2).
     */
    public static function clean(string $text): string
    {
        $text = preg_replace(
            '/[^\x{9}\x{A}\x{D}\x{20}-\x{D7FF}\x{E000}-\x{FFFD}\x{10000}-\x{10FFFF}]/u',
            '',
            str_replace("\r\n", "\n", mb_scrub($text, 'UTF-8')),
        ) ?? '';
        $normal = \Normalizer::normalize($text);

        return \is_string($normal) ? $normal : $text;
    }

    /** As {@see self::clean()}, on one line, with no outer or double blanks. */
    public static function line(string $text): string
    {
        return trim(preg_replace('/\s+/u', ' ', self::clean($text)) ?? '');
    }
}
