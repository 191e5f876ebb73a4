<?php

declare(strict_types=1);

namespace Velvet\Core\Tests\Filed;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Velvet\Core\Filed\Verdict;
use Velvet\Core\Filed\VerdictsUnreadable;
use Velvet\Core\Filed\VerdictTable;

final class VerdictTableTest extends TestCase
{
    private string $file;

    protected function setUp(): void
    {
        $this->file = (string) tempnam(sys_get_temp_dir(), 'verdicts');
    }

    protected function tearDown(): void
    {
        unlink($this->file);
    }

    public function testWhatIsWrittenIsReadAgainWhateverAPathHolds(): void
    {
        $paths = [
            '2026/a, "b"/1.jpg', "2026/line\nfeed/2.jpg", '=2026/3.jpg', '2026/Kvæfjord/4.trw', "'5.jpg", '6\\".jpg',
        ];
        $frames = $expected = [];
        foreach ($paths as $n => $path) {
            $verdict = Verdict::cases()[$n % 3];
            $stars = 0 === $n ? null : $n % 6;
            $tabs = \array_slice(['Élan, "late"', '=Quay'], 0, $n % 3);
            $frames[] = [
                'shoot' => 'Lantern, Regatta', 'path' => $path, 'verdict' => $verdict->value, 'stars' => $stars,
                'tabs' => $tabs, 'by' => 0 === $n % 2 ? null : '=Ines',
            ];
            $expected[] = ['path' => $path, 'verdict' => $verdict, 'stars' => $stars, 'tabs' => $tabs];
        }
        file_put_contents($this->file, VerdictTable::csv($frames));
        self::assertSame($expected, VerdictTable::read($this->file));
        self::assertDoesNotMatchRegularExpression('/,=(2026|Ines)/', VerdictTable::csv($frames), 'nothing is computed');
        file_put_contents($this->file, json_encode(['frames' => $frames], \JSON_THROW_ON_ERROR));
        self::assertSame($expected, VerdictTable::read($this->file));
    }

    public function testColumnsStandInAnyOrderAndOthersArePassedOver(): void
    {
        file_put_contents($this->file, "\u{FEFF}Verdict,Note,Path\nKept,mine,a.jpg\n\nstruck,,b.jpg\n");
        self::assertSame(
            [
                ['path' => 'a.jpg', 'verdict' => Verdict::Kept, 'stars' => null, 'tabs' => null],
                ['path' => 'b.jpg', 'verdict' => Verdict::Struck, 'stars' => null, 'tabs' => null],
            ],
            VerdictTable::read($this->file),
        );
    }

    #[DataProvider('unreadable')]
    public function testNothingIsTakenByHalves(string $text, string $why): void
    {
        file_put_contents($this->file, $text);
        $this->expectException(VerdictsUnreadable::class);
        $this->expectExceptionMessage($why);
        VerdictTable::read($this->file);
    }

    /** @return iterable<string, array{string, string}> */
    public static function unreadable(): iterable
    {
        yield 'no names' => ["a.jpg,kept\n", 'does not name the columns'];
        yield 'nothing' => ['', 'does not name the columns'];
        yield 'another verdict' => ["path,verdict\na.jpg,kept\nb.jpg,perhaps\n", 'number 2 of its frames'];
        yield 'too many stars' => ["path,verdict,stars\na.jpg,kept,6\n", 'number 1 of its frames'];
        yield 'no path' => ["path,verdict\n,kept\n", 'number 1 of its frames'];
        yield 'another coding' => ["path,verdict\na\xE9.jpg,kept\n", 'not in UTF-8'];
        yield 'a sentence for a tab' => ["path,verdict,tabs\na.jpg,kept,".str_repeat('a', 41)."\n", 'longer than 40'];
        yield 'another document' => ['{"files": []}', 'no JSON document with a list of frames'];
        yield 'frames of nothing' => ['{"frames": [3]}', 'number 1 of its frames'];
    }

    public function testAFileThatIsNotThereIsNamed(): void
    {
        $this->expectExceptionMessage('/nowhere/v.csv was not taken in: it cannot be read. No verdict was changed.');
        VerdictTable::read('/nowhere/v.csv');
    }
}
