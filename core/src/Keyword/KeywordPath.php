<?php

declare(strict_types=1);

namespace Velvet\Core\Keyword;

use Velvet\Core\Metadata\Metadata;

/** A keyword by the names from the outermost down to itself: Places › Tarn Hollow › Quay. */
final readonly class KeywordPath
{
    public const STEP = ' › ';
    private const DEEPEST = 12;
    private const LONGEST_NAME = 240;

    /** @param non-empty-list<string> $names outermost first */
    private function __construct(public array $names)
    {
    }

    /**
     * @param list<string> $names outermost first
     *
     * @throws KeywordRefused
     */
    public static function of(array $names): self
    {
        $clean = array_map(self::name(...), $names);
        if ([] === $clean) {
            throw KeywordRefused::empty();
        }
        if (\count($clean) > self::DEEPEST) {
            throw KeywordRefused::tooDeep($names, self::DEEPEST);
        }

        return new self($clean);
    }

    /**
     * As it is typed: the steps are parted by ` › ` or ` > `.
     *
     * @throws KeywordRefused
     */
    public static function typed(string $text): self
    {
        $names = preg_split('/\s*›\s*|\s+>\s+/u', trim(Metadata::clean($text)));

        return self::of(false === $names ? [] : $names);
    }

    /**
     * A name as the catalogue and the files can hold it: one line, no outer or double blanks, Unicode NFC.
     *
     * @throws KeywordRefused
     */
    public static function name(string $text): string
    {
        $name = Metadata::line($text);
        if ('' === $name) {
            throw KeywordRefused::empty();
        }
        if (str_contains($name, '›')) {
            throw KeywordRefused::stepInName($name);
        }
        if (mb_strlen($name) > self::LONGEST_NAME) {
            throw KeywordRefused::tooLong($name, self::LONGEST_NAME);
        }

        return $name;
    }

    public function last(): string
    {
        return $this->names[\count($this->names) - 1];
    }

    /** The one that it lies beneath; null for an outermost one. */
    public function above(): ?self
    {
        $names = \array_slice($this->names, 0, -1);

        return [] === $names ? null : new self($names);
    }

    public function text(): string
    {
        return implode(self::STEP, $this->names);
    }

    /** The same for keywords that differ in upper and lower case only. */
    public function key(): string
    {
        return self::folded($this->text());
    }

    public static function folded(string $text): string
    {
        return mb_convert_case($text, \MB_CASE_FOLD);
    }
}
