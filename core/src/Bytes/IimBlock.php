<?php

declare(strict_types=1);

namespace Velvet\Core\Bytes;

/**
 * A block of IPTC IIM 4.2 datasets, for older readers. Datasets that are not ours to change stay, in their order; all
 * text is UTF-8 afterwards, and says so (1:90, ESC % G; IIM 4.2, 1.6).
 */
final class IimBlock
{
    private const MARKER = 0x1C;
    private const ENVELOPE = 1;
    private const APPLICATION = 2;
    private const CHARACTER_SET = 90;
    private const UTF8 = "\x1B%G";
    private const VERSION = 0;
    private const KEYWORD = 25;
    /** Bytes of a keyword (IIM 4.2, dataset 2:25). */
    private const KEYWORD_BYTES = 64;
    /** Longer datasets need another length field, which nobody writes for text (IIM 4.2, 1.5). */
    private const LONGEST = 0x7FFF;
    /** Datasets of record 2 that hold no text: version, object preview and its description. */
    private const BINARY = [self::VERSION, 200, 201, 202];

    /** @param list<array{int, int, string}> $datasets record, dataset, bytes */
    private function __construct(private array $datasets)
    {
    }

    /** @throws StructureBroken when it breaks off */
    public static function read(string $bytes): self
    {
        [$datasets, $isWhole] = self::datasets($bytes);
        if (!$isWhole) {
            throw StructureBroken::because('its IIM block breaks off or holds a dataset longer than 32,767 bytes');
        }

        return self::inUtf8($datasets);
    }

    /** As far as it can be read. */
    public static function readable(string $bytes): self
    {
        return self::inUtf8(self::datasets($bytes)[0]);
    }

    /** @return array{list<array{int, int, string}>, bool} as far as they can be read; whether that is all */
    private static function datasets(string $bytes): array
    {
        $datasets = [];
        $at = 0;
        while ($at + 5 <= \strlen($bytes) && self::MARKER === \ord($bytes[$at])) {
            $length = TiffBlock::number($bytes, $at + 3, 2, false);
            if ($length > self::LONGEST || $at + 5 + $length > \strlen($bytes)) {
                return [$datasets, false];
            }
            $datasets[] = [\ord($bytes[$at + 1]), \ord($bytes[$at + 2]), substr($bytes, $at + 5, $length)];
            $at += 5 + $length;
        }

        return [$datasets, true];
    }

    /** @return list<string> texts of a dataset of record 2 */
    public function texts(int $dataset): array
    {
        $texts = [];
        foreach ($this->datasets as [$record, $number, $text]) {
            if (self::APPLICATION === $record && $number === $dataset) {
                $texts[] = $text;
            }
        }

        return $texts;
    }

    /**
     * @param string $text empty takes it out
     * @param int    $most bytes that the standard allows
     *
     * @return bool whether the text had to be cut
     */
    public function set(int $dataset, string $text, int $most): bool
    {
        $cut = self::cut($text, $most);
        $this->replace($dataset, '' === $cut ? [] : [$cut]);

        return $cut !== $text;
    }

    /**
     * @param list<string> $keywords
     *
     * @return bool whether one had to be cut
     */
    public function setKeywords(array $keywords): bool
    {
        $cut = array_map(static fn (string $keyword): string => self::cut($keyword, self::KEYWORD_BYTES), $keywords);
        $this->replace(self::KEYWORD, $cut);

        return $cut !== $keywords;
    }

    public function bytes(): string
    {
        $datasets = array_values(
            array_filter(
                $this->datasets,
                static fn (array $dataset): bool => [self::ENVELOPE, self::CHARACTER_SET]
                    !== [$dataset[0], $dataset[1]],
            ),
        );
        if ([] === $datasets) {
            return '';
        }
        $isVersion = static fn (array $dataset): bool => [self::APPLICATION, self::VERSION]
            === [$dataset[0], $dataset[1]];
        if ([] === array_filter($datasets, $isVersion)) {
            $datasets[] = [self::APPLICATION, self::VERSION, "\0\x04"];
        }
        $datasets[] = [self::ENVELOPE, self::CHARACTER_SET, self::UTF8];
        // records in order, the version first in its record (IIM 4.2, 2.2); within a record the order stays
        usort(
            $datasets,
            static fn (array $a, array $b): int => [$a[0], self::VERSION !== $a[1] ? 1 : 0]
                <=> [$b[0], self::VERSION !== $b[1] ? 1 : 0],
        );
        $bytes = '';
        foreach ($datasets as [$record, $number, $value]) {
            $bytes .= pack('CCCn', self::MARKER, $record, $number, \strlen($value)).$value;
        }

        return $bytes;
    }

    /** A text of at most so many bytes, cut at a whole character. */
    public static function cut(string $text, int $most): string
    {
        return mb_strcut($text, 0, $most, 'UTF-8');
    }

    /** @param list<string> $texts */
    private function replace(int $dataset, array $texts): void
    {
        $kept = [];
        $at = null;
        foreach ($this->datasets as $each) {
            if ([self::APPLICATION, $dataset] === [$each[0], $each[1]]) {
                $at ??= \count($kept);
            } else {
                $kept[] = $each;
            }
        }
        array_splice(
            $kept,
            $at ?? \count($kept),
            0,
            array_map(static fn (string $text): array => [self::APPLICATION, $dataset, $text], $texts),
        );
        $this->datasets = $kept;
    }

    /**
     * What does not say that it is UTF-8 is read as {@see OlderText} does.
     *
     * @param list<array{int, int, string}> $datasets
     */
    private static function inUtf8(array $datasets): self
    {
        $texts = $places = [];
        foreach ($datasets as $i => [$record, $number, $value]) {
            if ([self::ENVELOPE, self::CHARACTER_SET, self::UTF8] === [$record, $number, $value]) {
                return new self($datasets);
            }
            if (self::APPLICATION === $record && !\in_array($number, self::BINARY, true)) {
                $texts[] = $value;
                $places[] = $i;
            }
        }
        $decoded = [] === $texts ? [] : array_combine($places, OlderText::together($texts));
        $inUtf8 = [];
        foreach ($datasets as $i => [$record, $number, $value]) {
            $inUtf8[] = [$record, $number, $decoded[$i] ?? $value];
        }

        return new self($inUtf8);
    }
}
