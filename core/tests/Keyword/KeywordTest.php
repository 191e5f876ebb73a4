<?php

declare(strict_types=1);

namespace Velvet\Core\Tests\Keyword;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Velvet\Core\Keyword\Keyword;
use Velvet\Core\Keyword\KeywordPath;
use Velvet\Core\Keyword\ListedKeyword;

final class KeywordTest extends TestCase
{
    public function testAListGivesMarksAndSynonymsAndTakesNoneAway(): void
    {
        $now = new Keyword(7, 3, 'Quay', heading: true, withAbove: false, synonyms: ['wharf'], uses: 5, lastUsed: 9);
        $path = KeywordPath::of(['Places', 'Quay']);
        $with = $now->with(new ListedKeyword($path, private: true, synonyms: ['wharf', 'pier']));
        self::assertEquals(
            new Keyword(7, 3, 'Quay', true, true, false, ['wharf', 'pier'], 5, 9),
            $with,
        );
        self::assertEquals($with, $with->with(new ListedKeyword($path)), 'a list that says nothing changes nothing');
        $plain = new Keyword(7, null, 'Quay');
        self::assertFalse($plain->with(new ListedKeyword($path, withAbove: false))->withAbove);
    }

    public function testItsOwnNameIsNoSynonym(): void
    {
        $keyword = new Keyword(7, null, 'Quay', synonyms: ['wharf']);
        self::assertSame(['wharf', 'pier'], $keyword->foundBy(['QUAY', 'wharf', 'pier', 'quay'])->synonyms);
        self::assertSame([], (new Keyword(7, null, 'Quay'))->foundBy(['quay'])->synonyms);
    }

    #[DataProvider('others')]
    public function testWhatIsWrittenOtherwise(bool $isLike, Keyword $other): void
    {
        self::assertSame($isLike, (new Keyword(7, 3, 'Quay'))->isWrittenLike($other));
    }

    /** @return iterable<string, array{bool, Keyword}> */
    public static function others(): iterable
    {
        yield 'the same' => [true, new Keyword(7, 3, 'Quay')];
        yield 'found by other words' => [true, new Keyword(7, 3, 'Quay', synonyms: ['wharf'], uses: 4, lastUsed: 5)];
        yield 'another name' => [false, new Keyword(7, 3, 'Wharf')];
        yield 'another letter case' => [false, new Keyword(7, 3, 'quay')];
        yield 'beneath another one' => [false, new Keyword(7, 4, 'Quay')];
        yield 'at the top' => [false, new Keyword(7, null, 'Quay')];
        yield 'a heading' => [false, new Keyword(7, 3, 'Quay', heading: true)];
        yield 'private' => [false, new Keyword(7, 3, 'Quay', private: true)];
        yield 'without those above' => [false, new Keyword(7, 3, 'Quay', withAbove: false)];
    }
}
