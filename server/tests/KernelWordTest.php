<?php

declare(strict_types=1);

namespace Velvet\Server\Tests;

use PHPUnit\Framework\TestCase;
use Velvet\Core\Tests\TemporaryFolder;
use Velvet\Server\Watch\KernelWord;

/** What the kernel says of bays; proc(5), inotify(7). */
final class KernelWordTest extends TestCase
{
    use TemporaryFolder;

    /** Seconds; only a kernel that says nothing takes them. */
    private const MOST = 20.0;

    public function testItTellsOfCardsThatComeAndGoAndOfNothingElse(): void
    {
        mkdir($this->folder.'/bay');
        mkdir($this->folder.'/elsewhere/card', recursive: true);
        $kernel = new KernelWord([$this->folder.'/bay', $this->folder.'/not there']);
        self::assertFalse($kernel->wait(0.0));

        rename($this->folder.'/elsewhere/card', $this->folder.'/bay/card');
        self::assertTrue($kernel->wait(self::MOST), 'it was put in');
        self::assertFalse($kernel->wait(0.0), 'that was said');

        file_put_contents($this->folder.'/bay/card/T0001.JPG', 'x');
        self::assertFalse($kernel->wait(0.0), 'what happens on a card is found by looking');

        rename($this->folder.'/bay/card', $this->folder.'/elsewhere/card');
        self::assertTrue($kernel->wait(self::MOST), 'it was taken out');
    }

    public function testItTellsOfMountsWhereTheyCanBeMade(): void
    {
        $kernel = new KernelWord([]);
        exec('mount -t tmpfs none '.escapeshellarg($this->folder).' 2>/dev/null', $output, $failed);
        if (0 !== $failed) {
            self::markTestSkipped('This machine lets nobody mount.');
        }
        try {
            self::assertTrue($kernel->wait(self::MOST), 'it was mounted');
        } finally {
            exec('umount '.escapeshellarg($this->folder));
        }
        self::assertTrue($kernel->wait(self::MOST), 'it was unmounted');
        self::assertFalse($kernel->wait(0.0));
    }
}
