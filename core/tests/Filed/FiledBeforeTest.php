<?php

declare(strict_types=1);

namespace Velvet\Core\Tests\Filed;

use PHPUnit\Framework\TestCase;
use Velvet\Core\Bytes\Digest;
use Velvet\Core\Bytes\FileBytes;
use Velvet\Core\Bytes\FileUnreadable;
use Velvet\Core\Bytes\Fingerprint;
use Velvet\Core\Filed\FiledBefore;
use Velvet\Core\Filed\FiledCopy;
use Velvet\Core\Filed\FiledIndex;
use Velvet\Core\Tests\TemporaryFolder;

final class FiledBeforeTest extends TestCase
{
    use TemporaryFolder;

    public function testEqualContentUnderAnotherNameIsFound(): void
    {
        $card = $this->file('card/T0001.JPG', 'picture');
        $filed = $this->file('shelf/regatta_0001.jpg', 'picture');
        self::assertSame(
            7,
            $this->find(
                $card,
                [new FiledCopy(7, 'regatta_0001.jpg', Digest::ofFile($filed), [$this->folder.'/shelf'])],
            )?->id,
        );
    }

    public function testALikenessIsNoProof(): void
    {
        // same size, same samples at start, middle and end, one byte different between them
        $bytes = random_bytes(200_000);
        $other = $bytes;
        $other[50_000] = \chr(\ord($bytes[50_000]) ^ 1);
        $card = $this->file('card/T0001.JPG', $bytes);
        $filed = $this->file('shelf/a.jpg', $other);
        self::assertEquals(
            $this->fingerprint($card),
            $this->fingerprint($filed),
            'the test needs files that look alike',
        );
        self::assertNull(
            $this->find($card, [new FiledCopy(1, 'a.jpg', Digest::ofFile($filed), [$this->folder.'/shelf'])]),
        );
    }

    public function testAFiledFileThatLacksAWholeCopyIsNotSkippedButRepaired(): void
    {
        $card = $this->file('card/T0001.JPG', 'picture');
        foreach ([
            'gone or damaged' => [[], ['/shelf'], true],
            'good' => [['/shelf', '/twin'], [], false],
            'on the twin only' => [['/twin'], ['/shelf'], true],
            'the twin is not connected' => [['/shelf'], [], false],
        ] as $case => [$whole, $lacks, $needsRepair]) {
            self::assertSame(
                $needsRepair,
                $this->find($card, [new FiledCopy(1, 'a.jpg', Digest::ofFile($card), $whole, $lacks)])?->needsRepair(),
                $case,
            );
        }
        self::assertNull(
            $this->find($card, [new FiledCopy(1, 'a.jpg', Digest::ofFile($card), [])]),
            'no drive can be looked at: nothing is skipped on a guess',
        );
    }

    public function testFingerprintsTellSizeAndEndsApart(): void
    {
        $base = str_repeat('a', 100_000);
        $prints = array_map(
            fn (string $content): string => $this->fingerprint($this->file('f', $content))->hex,
            [$base, $base.'a', 'b'.substr($base, 1), substr($base, 1).'b', ''],
        );
        self::assertSameSize($prints, array_unique($prints));
    }

    public function testDigestsAreCheckedAndLabelled(): void
    {
        $path = $this->file('a', 'abc');
        self::assertSame(
            'xxh128:'.explode(' ', (string) shell_exec('xxh128sum '.escapeshellarg($path)))[0],
            Digest::ofFile($path)->labelled(),
        );
        $this->expectException(\ValueError::class);
        Digest::fromHex('xyz');
    }

    public function testAMissingFileHasNoDigest(): void
    {
        $this->expectException(FileUnreadable::class);
        Digest::ofFile($this->folder.'/gone');
    }

    /** @param list<FiledCopy> $filed */
    private function find(string $card, array $filed): ?FiledCopy
    {
        $index = new class($filed) implements FiledIndex {
            /** @param list<FiledCopy> $filed */
            public function __construct(private readonly array $filed)
            {
            }

            public function like(Fingerprint $fingerprint): array
            {
                return $this->filed;
            }
        };

        return (new FiledBefore($index))->find($card, $this->fingerprint($card));
    }

    private function fingerprint(string $path): Fingerprint
    {
        return Fingerprint::of(FileBytes::open($path));
    }
}
