<?php

declare(strict_types=1);

namespace Velvet\Server\Tests;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Velvet\Server\Dng\FencedConversion;

/** Programs that hang, grow and crash in the place of a conversion. */
final class FencedConversionTest extends TestCase
{
    #[DataProvider('unruly')]
    public function testWhatOverrunsIsGivenUp(string $program, int $seconds): void
    {
        $conversion = new FencedConversion([\PHP_BINARY, '-n', '-d', 'memory_limit=-1', '-r', $program, '--'], $seconds, 400_000_000);
        $conversion->start('/from', '/to', 'T0001.TRW', false);
        while ($conversion->runs()) {
            usleep(2000);
        }
        self::assertSame('converting it took too long or too much memory, and was given up', $conversion->outcome());
    }

    /** @return iterable<string, array{string, int}> */
    public static function unruly(): iterable
    {
        yield 'it hangs' => ['for (;;) { }', 1];
        yield 'it grows' => ['$a = []; for (;;) { $a[] = str_repeat("x", 10_000_000); }', 20];
        yield 'it crashes' => ['posix_kill(getmypid(), 11);', 20];
        yield 'it says nothing of use' => ['echo "{}";', 20];
    }

    public function testWhatItSaysIsHeard(): void
    {
        $conversion = new FencedConversion([\PHP_BINARY, '-n', '-r', 'echo json_encode(["bytes_before" => 9, "bytes_after" => 4, "samples" => "00", "digest" => "01"]);', '--']);
        $conversion->start('/from', '/to', 'T0001.TRW', true);
        while ($conversion->runs()) {
            usleep(2000);
        }
        self::assertSame(['bytes_before' => 9, 'bytes_after' => 4, 'samples' => '00', 'digest' => '01'], $conversion->outcome());
    }
}
