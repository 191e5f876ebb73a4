<?php

declare(strict_types=1);

namespace Velvet\Core\Tests\Bytes;

use PHPUnit\Framework\TestCase;
use Velvet\Core\Bytes\ByteRange;
use Velvet\Core\Bytes\FileBytes;
use Velvet\Core\Bytes\FileUnreadable;
use Velvet\Core\Tests\TemporaryFolder;

final class FileBytesTest extends TestCase
{
    use TemporaryFolder;

    public function testReadsAnywhereAndCountsWhatItTakes(): void
    {
        $content = random_bytes(100_000);
        $bytes = FileBytes::open($this->file('a', $content));
        self::assertSame(100_000, $bytes->size());
        self::assertSame(substr($content, 10, 20), $bytes->read(10, 20));
        self::assertSame(32 * 1024, $bytes->bytesRead(), 'the head is read once');
        self::assertSame(substr($content, 90_000, 500), $bytes->read(90_000, 500));
        self::assertSame(substr($content, 32_000, 5000), $bytes->read(32_000, 5000), 'across the edge of the head');
        self::assertSame(32 * 1024 + 500 + 5000, $bytes->bytesRead());
    }

    public function testGivesNothingFromOutsideTheFile(): void
    {
        $bytes = FileBytes::open($this->file('a', 'abcdef'));
        self::assertSame(
            ['ef', '', '', '', ''],
            [
                $bytes->read(4, 100),
                $bytes->read(6, 1),
                $bytes->read(-1, 3),
                $bytes->read(\PHP_INT_MAX, 3),
                $bytes->read(0, 0),
            ],
        );
    }

    public function testAMissingFileIsASentence(): void
    {
        try {
            FileBytes::open($this->folder.'/gone.jpg');
            self::fail('It was opened.');
        } catch (FileUnreadable $e) {
            self::assertSame(
                '“gone.jpg” could not be read (no such file or directory). It is untouched where it lies.',
                $e->getMessage(),
            );
            self::assertSame('no such file or directory', $e->reason);
        }
    }

    public function testRangesLieWithinTheirFile(): void
    {
        self::assertNotNull(ByteRange::within(100, 0, 100));
        self::assertNotNull(ByteRange::within(100, 99, 1));
        foreach ([
            [100, 1],
            [0, 101],
            [-1, 5],
            [5, 0],
            [5, -1],
            [\PHP_INT_MAX, 1],
            [1, \PHP_INT_MAX],
        ] as [$offset, $length]) {
            self::assertNull(ByteRange::within(100, $offset, $length), "$offset, $length");
        }
    }
}
