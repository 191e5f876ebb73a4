<?php

declare(strict_types=1);

namespace Velvet\Core\Tests\Bytes;

use PHPUnit\Framework\Attributes\TestWith;
use PHPUnit\Framework\TestCase;
use Velvet\Core\Bytes\Digest;
use Velvet\Core\Bytes\RunningDigests;
use Velvet\Core\Bytes\SecondDigest;
use Velvet\Core\Tests\TemporaryFolder;

final class RunningDigestsTest extends TestCase
{
    use TemporaryFolder;

    /** Against the programs that users check with: xxhsum, sha256sum and b2sum. */
    #[TestWith([SecondDigest::Sha256, 'sha256sum'])]
    #[TestWith([SecondDigest::Blake2b, 'b2sum'])]
    public function testPiecesMakeTheDigestsOfTheWhole(SecondDigest $second, string $program): void
    {
        $content = str_repeat('a picture that cannot be taken again ', 4000);
        $path = $this->file('a', $content);
        $digests = new RunningDigests($second);
        foreach ([1, 64, 65, 100_000, \PHP_INT_MAX] as $i => $end) {
            $from = [0, 1, 64, 65, 100_000][$i];
            $digests->update(substr($content, $from, $end - $from));
        }
        self::assertSame(\strlen($content), $digests->bytes());
        $found = $digests->finished();
        self::assertTrue($found->content->equals(Digest::ofFile($path)));
        self::assertTrue($found->content->isOfFile($path));
        $first = static fn (string $command): string => explode(
            ' ',
            (string) shell_exec($command.' '.escapeshellarg($path)),
        )[0];
        self::assertSame($first('xxhsum -H2'), $found->content->hex);
        self::assertSame($first($program), $found->second);
    }

    public function testNothingHasADigestToo(): void
    {
        $found = (new RunningDigests())->finished();
        self::assertTrue($found->content->equals(Digest::ofBytes('')));
        self::assertNull($found->second);
        self::assertFalse($found->content->isOfFile($this->folder.'/gone'));
        self::assertFalse($found->content->isOfFile($this->folder), 'a folder is no file');
    }
}
