<?php

declare(strict_types=1);

namespace Velvet\Core\Tests\Receipt;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Velvet\Core\Receipt\Clearance;
use Velvet\Core\Receipt\LedgerLine;

final class ReceiptTest extends TestCase
{
    /**
     * @param list<string> $unread
     * @param list<string> $missing
     */
    #[DataProvider('cards')]
    public function testWhetherACardIsCleared(int $frames, int $once, int $nowhere, int $leftOut, int $movies, array $unread, array $missing): void
    {
        $clearance = Clearance::of($frames, $once, $nowhere, $leftOut, $movies, $unread);
        self::assertSame([] === $missing, $clearance->cleared);
        self::assertSame($missing, $clearance->missing);
    }

    /** @return iterable<string, array{int, int, int, int, int, list<string>, list<string>}> */
    public static function cards(): iterable
    {
        yield 'all in two places' => [3, 0, 0, 0, 0, [], []];
        yield 'one without a twin' => [3, 1, 0, 0, 0, [], ['1 frame is verified in one place only; a second copy is missing.']];
        yield 'two nowhere' => [3, 0, 2, 0, 0, [], ['2 frames are on this card and nowhere else.']];
        yield 'left out' => [3, 0, 0, 1, 0, [], ['1 frame was left out and is on this card only.']];
        yield 'a movie' => [3, 0, 0, 0, 1, [], ['1 movie or sound file lies on this card and was not copied.']];
        yield 'something could not be read' => [3, 0, 0, 0, 0, ['The folder is locked.'], ['The folder is locked.']];
        yield 'an empty card is not cleared' => [0, 0, 0, 0, 0, [], ['There are no frames on this card.']];
    }

    public function testALineIsSealedWithTheLineBefore(): void
    {
        $at = new \DateTimeImmutable('2026-05-02 21:31:40.123456 +02:00');
        $line = LedgerLine::after(LedgerLine::FIRST_SEAL, $at, 'file_filed', ['from' => 'DCIM/a.jpg', 'bytes' => 3]);
        self::assertSame('2026-05-02T19:31:40.123456Z', $line->at);
        // computed by sha256sum from coreutils
        $theirs = explode(' ', (string) shell_exec(\sprintf('printf %%s %s | sha256sum', escapeshellarg(LedgerLine::FIRST_SEAL."\n2026-05-02T19:31:40.123456Z\nfile_filed\n{\"from\":\"DCIM/a.jpg\",\"bytes\":3}"))))[0];
        self::assertSame($theirs, $line->seal);
        self::assertNotSame($line->seal, LedgerLine::sealed($line->before, $line->at, $line->event, '{"from":"DCIM/b.jpg","bytes":3}')->seal);
    }
}
