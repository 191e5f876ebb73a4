<?php

declare(strict_types=1);

namespace Velvet\Core\Tests\Keyword;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Velvet\Core\Keyword\Keyword;
use Velvet\Core\Keyword\KeywordPath;
use Velvet\Core\Keyword\KeywordRefused;
use Velvet\Core\Keyword\KeywordTree;
use Velvet\Core\Metadata\Metadata;

final class KeywordTreeTest extends TestCase
{
    private static function tree(): KeywordTree
    {
        return new KeywordTree([
            new Keyword(1, null, 'Places', heading: true),
            new Keyword(2, 1, 'Tarn Hollow', synonyms: ['the Hollow'], uses: 40, lastUsed: 100),
            new Keyword(3, 2, 'Quay', uses: 12, lastUsed: 300),
            new Keyword(4, 2, 'Tide clock', withAbove: false, uses: 12, lastUsed: 200),
            new Keyword(5, null, 'People'),
            new Keyword(6, 5, 'Ines Varga-Holt', private: true, lastUsed: 50),
            new Keyword(7, 6, 'at work'),
            new Keyword(8, null, 'Équipe', uses: 1),
            new Keyword(9, null, '灯籠流し', synonyms: ['lanterns']),
        ]);
    }

    /**
     * @param list<string>       $has
     * @param list<string>       $flat
     * @param list<list<string>> $nested
     */
    #[DataProvider('written')]
    public function testWhatIsWritten(array $has, array $flat, array $nested): void
    {
        self::assertSame([$flat, $nested], self::tree()->written(array_map(KeywordPath::typed(...), $has)));
    }

    /** @return iterable<string, array{list<string>, list<string>, list<list<string>>}> */
    public static function written(): iterable
    {
        yield 'with those above it, but no heading' => [
            ['Places › Tarn Hollow › Quay'],
            ['Tarn Hollow', 'Quay'],
            [['Tarn Hollow', 'Quay']],
        ];
        yield 'without those above it' => [
            ['Places › Tarn Hollow › Tide clock'],
            ['Tide clock'],
            [['Tarn Hollow', 'Tide clock']],
        ];
        yield 'two beneath one' => [
            ['Places › Tarn Hollow › Quay', 'Places › Tarn Hollow'],
            ['Tarn Hollow', 'Quay'],
            [['Tarn Hollow', 'Quay']],
        ];
        yield 'headings and private ones never' => [['Places', 'People › Ines Varga-Holt'], [], []];
        yield 'beneath a private one' => [
            ['People › Ines Varga-Holt › at work'],
            ['People', 'at work'],
            [['People', 'at work']],
        ];
        yield 'not in the catalogue' => [
            ['regatta', 'Boats > dinghy'],
            ['regatta', 'Boats', 'dinghy'],
            [['Boats', 'dinghy']],
        ];
        yield 'the case of the catalogue holds' => [
            ['places › tarn hollow › QUAY'],
            ['Tarn Hollow', 'Quay'],
            [['Tarn Hollow', 'Quay']],
        ];
    }

    /** @param list<string> $names */
    #[DataProvider('typing')]
    public function testWhatIsMeant(string $typed, array $names): void
    {
        self::assertSame(
            $names,
            array_map(
                static fn (array $found): string => $found[0]->name.(null === $found[1] ? '' : ' by '.$found[1]),
                self::tree()->meantBy($typed, 4),
            ),
        );
    }

    /** @return iterable<string, array{string, list<string>}> */
    public static function typing(): iterable
    {
        yield 'nothing: the latest used' => ['', ['Quay', 'Tide clock', 'Tarn Hollow', 'Ines Varga-Holt']];
        yield 'the most used first' => ['t', ['Tarn Hollow', 'Tide clock']];
        yield 'a later word' => ['cl', ['Tide clock']];
        yield 'without its accent' => ['equ', ['Équipe']];
        yield 'with one, composed or not' => ["e\u{301}qu", ['Équipe']];
        yield 'by a synonym' => ['the h', ['Tarn Hollow by the Hollow']];
        yield 'a script without blanks' => ['流し', ['灯籠流し']];
        yield 'no heading' => ['places', []];
        yield 'a synonym in another language' => ['LANT', ['灯籠流し by lanterns']];
    }

    public function testAWordGoesWhereTheCatalogueHasJustOneOfItsName(): void
    {
        self::assertSame('Places › Tarn Hollow › Quay', self::tree()->placed(KeywordPath::typed('quay'))->text());
        self::assertSame('new', self::tree()->placed(KeywordPath::typed('new'))->text());
        $twice = new KeywordTree(
            [
                new Keyword(1, null, 'A'),
                new Keyword(2, 1, 'Quay'),
                new Keyword(3, null, 'B'),
                new Keyword(4, 3, 'Quay'),
            ],
        );
        self::assertSame('Quay', $twice->placed(KeywordPath::typed('Quay'))->text());
    }

    public function testWhatAFileSaysIsReadAsTheCatalogueHasIt(): void
    {
        $file = new Metadata(keywords: ['Tarn Hollow', 'Quay', 'boats'], paths: [['Tarn Hollow', 'Quay']]);
        self::assertSame(
            ['Tarn Hollow › Quay', 'boats'],
            array_map(static fn (KeywordPath $path): string => $path->text(), self::tree()->saidBy($file)),
        );
        self::assertSame(
            ['Places › Tarn Hollow'],
            array_map(
                static fn (KeywordPath $path): string => $path->text(),
                self::tree()->saidBy(new Metadata(keywords: ['Tarn Hollow', ' '])),
            ),
        );
    }

    public function testNamesAreOneLineAndNormal(): void
    {
        self::assertSame("Caf\u{e9} Quay", KeywordPath::typed("  Cafe\u{301} \n Quay ")->text());
        self::assertSame('ab', KeywordPath::typed("a\x01b")->text(), 'XML cannot hold it');
        foreach (['', ' ', str_repeat('x', 241), implode(' > ', array_fill(0, 13, 'a'))] as $refused) {
            try {
                KeywordPath::typed($refused);
                self::fail("“{$refused}” was taken.");
            } catch (KeywordRefused $e) {
                self::assertStringEndsWith('.', $e->getMessage());
            }
        }
    }

    public function testTheOrderIsThatOfNamesWithThoseBeneath(): void
    {
        self::assertSame(
            ['Équipe', 'People', 'Ines Varga-Holt', 'at work', 'Places', 'Tarn Hollow', 'Quay', 'Tide clock', '灯籠流し'],
            array_map(static fn (Keyword $keyword): string => $keyword->name, self::tree()->inOrder()),
        );
    }
}
