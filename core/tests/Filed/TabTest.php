<?php

declare(strict_types=1);

namespace Velvet\Core\Tests\Filed;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Velvet\Core\Filed\Tab;
use Velvet\Core\Filed\TabColour;
use Velvet\Core\Filed\TabRefused;
use Velvet\Core\Filed\TabWriting;

final class TabTest extends TestCase
{
    /** @param list<string> $taken */
    #[DataProvider('keys')]
    public function testItsKeyIsTheFirstOfItsLettersThatIsFree(string $name, array $taken, string $key): void
    {
        self::assertSame($key, Tab::keyOf($name, $taken));
    }

    /** @return iterable<string, array{string, list<string>, string}> */
    public static function keys(): iterable
    {
        yield 'the first letter' => ['Quay', [], 'q'];
        yield 'another one begins so' => ['Quiet', ['q'], 'u'];
        yield 'all of its letters are taken' => ['Qu', ['q', 'u'], 'a'];
        yield 'digits set stars' => ['2nd pass', [], 'n'];
        yield 'no letter in it' => ['2026', ['a'], 'b'];
        yield 'a mark is not on every keyboard' => ['Élan', [], 'e'];
        yield 'another script' => ['Ночь', [], 'н'];
    }

    public function testThereAreNoMoreThanLetters(): void
    {
        $this->expectExceptionObject(TabRefused::tooMany(26));
        Tab::keyOf('Quay', range('a', 'z'));
    }

    public function testANameIsOneLine(): void
    {
        self::assertSame('Late on the quay', Tab::name(" Late  on\nthe quay "));
        self::assertSame("\u{C9}lan", Tab::name("E\u{301}lan"), 'Unicode NFC');
    }

    #[DataProvider('names')]
    public function testANameThatCannotBeIsToldWhy(string $name, string $why): void
    {
        $this->expectExceptionMessageMatches($why);
        Tab::name($name);
    }

    /** @return iterable<string, array{string, string}> */
    public static function names(): iterable
    {
        yield 'blank' => [" \n", '/^A tab needs a name\.$/'];
        yield 'a sentence' => [str_repeat('Quay ', 9), '/^“Quay Quay Quay Quay …” is longer than 40 characters/'];
        yield 'parted' => ['Quay; Bridge', '/^“Quay; Bridge” has a semicolon in it/'];
    }

    public function testColoursAreUsedInTurn(): void
    {
        $tabs = [];
        foreach ([...TabColour::cases(), TabColour::Mulberry] as $n => $colour) {
            self::assertSame($colour, Tab::colourBeside($tabs));
            $tabs[] = self::tab(colour: $colour, id: $n);
        }
    }

    public function testFilesSayTheSameOfATabThatTheyDoNotName(): void
    {
        $quay = self::tab('Quay');
        self::assertTrue($quay->writesLike(self::tab('Bridge')));
        self::assertTrue($quay->isCalled('qUAY'));
        $keyword = self::tab('Quay', TabWriting::Keyword);
        self::assertFalse($keyword->writesLike($quay));
        self::assertFalse($keyword->writesLike(self::tab('Bridge', TabWriting::Keyword)));
        self::assertTrue($keyword->writesLike(self::tab('Quay', TabWriting::Keyword, TabColour::Clay)));
    }

    private static function tab(
        string $name = 'Quay',
        TabWriting $writes = TabWriting::Nothing,
        TabColour $colour = TabColour::Slate,
        int $id = 1,
    ): Tab {
        return new Tab($id, $name, $colour, $writes, 'q');
    }
}
