<?php

declare(strict_types=1);

namespace Velvet\Core\Tests\Keyword;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Velvet\Core\Keyword\Keyword;
use Velvet\Core\Keyword\KeywordList;
use Velvet\Core\Keyword\KeywordTree;
use Velvet\Core\Keyword\ListedKeyword;

/** Indented lists as they are common practice; CSV by RFC 4180. */
final class KeywordListTest extends TestCase
{
    /** @return list<string> */
    private static function paths(KeywordList $list): array
    {
        return array_map(static fn (ListedKeyword $listed): string => $listed->path->text(), $list->keywords);
    }

    public function testAnIndentedList(): void
    {
        $list = KeywordList::read(
            'harbour.txt',
            "Places\r\n\tTarn Hollow\r\n\t\tQuay\r\n\r\nboats\n",
        );
        self::assertSame(
            ['Places', 'Places › Tarn Hollow', 'Places › Tarn Hollow › Quay', 'boats'],
            self::paths($list),
        );
        self::assertSame([], $list->problems);
    }

    public function testBlanksIndentToo(): void
    {
        self::assertSame(
            ['A', 'A › B', 'A › B › C', 'A › D', 'E'],
            self::paths(KeywordList::read('x.txt', "A\n  B\n    C\n  D\nE")),
        );
    }

    public function testUtf16AndAByteOrderMark(): void
    {
        foreach ([
            "\xEF\xBB\xBF".'Kühlhaus',
            "\xFF\xFE".mb_convert_encoding('Kühlhaus', 'UTF-16LE', 'UTF-8'),
            "\xFE\xFF".mb_convert_encoding('Kühlhaus', 'UTF-16BE', 'UTF-8'),
        ] as $bytes) {
            self::assertSame(['Kühlhaus'], self::paths(KeywordList::read('x.txt', $bytes)));
        }
    }

    /**
     * @param list<string>     $taken
     * @param non-empty-string $problem
     */
    #[DataProvider('broken')]
    public function testABrokenLineIsNamedAndTheRestGoesOn(
        string $name,
        string $text,
        array $taken,
        string $problem,
    ): void {
        $list = KeywordList::read($name, $text);
        self::assertSame($taken, self::paths($list));
        self::assertCount(1, $list->problems);
        self::assertStringStartsWith($problem, $list->problems[0]);
    }

    /** @return iterable<string, array{string, string, list<string>, non-empty-string}> */
    public static function broken(): iterable
    {
        yield 'two steps at once' => [
            'h.txt',
            "Places\n\t\tQuay\n\t\t\tstones\nboats",
            ['Places', 'boats'],
            'h.txt, line 2: “Quay” is indented further than one step beneath the line above it.',
        ];
        yield 'a name that cannot be' => [
            'h.txt',
            "boats\n".str_repeat('x', 300)."\n\tbeneath\nnets",
            ['boats', 'nets'],
            'h.txt, line 2: “xxxxx',
        ];
        yield 'blanks that fit no step' => [
            'h.txt',
            "A\n  B\n   C\nD",
            ['A', 'A › B', 'D'],
            'h.txt, line 3: “C” is indented further',
        ];
        yield 'an empty keyword in CSV' => [
            'h.csv',
            "keyword,heading\r\nboats,no\r\n,yes\r\nnets,no\r\n",
            ['boats', 'nets'],
            'h.csv, line 3: A keyword needs at least one letter.',
        ];
        yield 'no text' => ['h.txt', "\x89PNG\0\0", [], 'h.txt is no text in UTF-8 or UTF-16.'];
    }

    private static function catalogue(): KeywordTree
    {
        return new KeywordTree([
            new Keyword(1, null, 'Places', heading: true),
            new Keyword(2, 1, 'Tarn Hollow, harbour', synonyms: ['the "Hollow"', 'Tarn']),
            new Keyword(3, 2, 'Quay', withAbove: false), new Keyword(4, null, 'Ines', private: true),
        ]);
    }

    public function testWhatIsExportedIsReadAgain(): void
    {
        $csv = KeywordList::read('k.csv', KeywordList::toCsv(self::catalogue()));
        self::assertSame([], $csv->problems);
        self::assertSame(
            ['Ines', 'Places', 'Places › Tarn Hollow, harbour', 'Places › Tarn Hollow, harbour › Quay'],
            self::paths($csv),
        );
        self::assertSame(
            [[false, true, false, false], [true, false, false, false], [true, true, true, false]],
            [
                array_column($csv->keywords, 'heading'),
                array_column($csv->keywords, 'private'),
                array_column($csv->keywords, 'withAbove'),
            ],
        );
        self::assertSame(['the "Hollow"', 'Tarn'], $csv->keywords[2]->synonyms);
        $text = KeywordList::read('k.txt', KeywordList::toText(self::catalogue()));
        self::assertSame(self::paths($csv), self::paths($text));
        self::assertSame([], array_merge(...array_column($text->keywords, 'synonyms')), 'the words alone');
    }

    public function testTheCsvIsThatOfTheStandard(): void
    {
        // RFC 4180, 2: fields with commas or quotes are quoted, quotes doubled, records ended by CR LF
        self::assertSame(
            "keyword,heading,private,with_those_above,synonyms\r\nInes,no,yes,yes,\r\nPlaces,yes,no,yes,\r\n"
                ."\"Places › Tarn Hollow, harbour\",no,no,yes,\"the \"\"Hollow\"\"; Tarn\"\r\n"
                ."\"Places › Tarn Hollow, harbour › Quay\",no,no,no,\r\n",
            KeywordList::toCsv(self::catalogue()),
        );
    }
}
