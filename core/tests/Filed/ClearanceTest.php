<?php

declare(strict_types=1);

namespace Velvet\Core\Tests\Filed;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Velvet\Core\Drive\Drive;
use Velvet\Core\Filed\CardFileSeen;
use Velvet\Core\Filed\CardSeen;
use Velvet\Core\Filed\Clearance;
use Velvet\Core\Filed\CopySeen;
use Velvet\Core\Filed\CopyStanding;

/** The definition of “cleared” (`product.md`, Words), case by case. */
final class ClearanceTest extends TestCase
{
    /** @param list<string> $missing */
    #[DataProvider('cards')]
    public function testWhetherACardIsCleared(CardSeen $card, array $missing): void
    {
        $clearance = Clearance::of($card);
        self::assertSame($missing, $clearance->missing);
        self::assertSame([] === $missing, $clearance->cleared);
    }

    /** @return iterable<string, array{CardSeen, list<string>}> */
    public static function cards(): iterable
    {
        $twice = self::frame(1, self::whole('/shelf', 1), self::whole('/twin', 2));
        yield 'all in two places, on two drives' => [new CardSeen([$twice, self::housekeeping()], true), []];
        yield 'never taken in' => [new CardSeen([$twice], false), ['This card has not been taken in yet.']];
        yield 'an empty card' => [new CardSeen([], false), ['There are no frames on this card.']];
        yield 'nothing but housekeeping' => [
            new CardSeen([self::housekeeping()], true),
            ['There are no frames on this card.'],
        ];
        yield 'not the card that was read' => [
            new CardSeen([$twice], true, ['The card changed since it was read.']),
            ['The card changed since it was read.'],
        ];
        yield 'one nowhere else' => [
            new CardSeen([$twice, new CardFileSeen('b.jpg', 2)], true),
            ['1 frame is on this card and nowhere else.'],
        ];
        yield 'thousands, as they are written everywhere' => [
            new CardSeen(
                array_map(static fn (int $n): CardFileSeen => new CardFileSeen("$n.jpg", $n), range(1, 5000)),
                true,
            ),
            ['5,000 frames are on this card and nowhere else.'],
        ];
        yield 'frames, not files, are counted' => [
            new CardSeen([$twice, new CardFileSeen('b.jpg', 2), new CardFileSeen('b.trw', 2)], true),
            ['1 frame is on this card and nowhere else.'],
        ];
        yield 'left out' => [
            new CardSeen([$twice, new CardFileSeen('b.jpg', 2, leftOut: true)], true),
            ['1 frame was left out and is on this card only.'],
        ];
        yield 'left out, and let go of' => [
            new CardSeen([$twice, new CardFileSeen('b.jpg', 2, leftOut: true, letGo: true)], true),
            [],
        ];
        yield 'files that nobody knows' => [
            new CardSeen(
                [
                    $twice,
                    ...array_map(
                        static fn (string $path): CardFileSeen => new CardFileSeen($path, null),
                        ['A.CRM', 'B.BRAW', 'C.MPG', '.hidden.jpg', 'Misc/IMG_0002.JPG'],
                    ),
                ],
                true,
            ),
            ['5 files on this card belong to no frame and were not copied: A.CRM, B.BRAW, C.MPG and 2 more.'],
        ];
        yield 'one place' => [
            new CardSeen([$twice, self::frame(2, self::whole('/shelf', 3))], true),
            ['1 frame is verified in one place only; a second copy is missing.'],
        ];
        yield 'the word for one drive does not make two places of one' => [
            new CardSeen([self::frame(2, self::whole('/shelf', 3))], true, oneDriveIsEnough: true),
            ['1 frame is verified in one place only; a second copy is missing.'],
        ];
        yield 'two paths to one file' => [
            new CardSeen(
                [self::frame(1, self::whole('/shelf', 1), self::whole('/twin', 1))],
                true,
                oneDriveIsEnough: true,
            ),
            ['“/shelf” and “/twin” lead to the same files: that is one place, not two.'],
        ];
        foreach ([
            [CopyStanding::Missing, '1 copy on “/twin” is missing.'],
            [CopyStanding::Changed, '1 copy on “/twin” is not what was verified there.'],
            [
                CopyStanding::Touched,
                '1 copy on “/twin” was written to since it was verified, and must be read again first.',
            ],
            [CopyStanding::Away, 'The drive of “/twin” is not connected, so 1 copy there cannot be looked at.'],
            [CopyStanding::Elsewhere, '“/twin” is no place of the shelf any more; what lies there does not count.'],
        ] as [$standing, $sentence]) {
            yield 'the twin is '.$standing->value => [
                new CardSeen([self::frame(1, self::whole('/shelf', 1), CopySeen::not('/twin', $standing))], true),
                [$sentence],
            ];
        }
        yield 'both are gone' => [
            new CardSeen(
                [
                    self::frame(
                        1,
                        CopySeen::not('/shelf', CopyStanding::Missing),
                        CopySeen::not('/twin', CopyStanding::Missing),
                    ),
                    self::frame(
                        2,
                        CopySeen::not('/shelf', CopyStanding::Missing),
                        CopySeen::not('/twin', CopyStanding::Away),
                    ),
                ],
                true,
            ),
            [
                '2 frames are filed, but no copy of them can be vouched for now.',
                '2 copies on “/shelf” are missing.',
                '1 copy on “/twin” is missing.',
                'The drive of “/twin” is not connected, so 1 copy there cannot be looked at.',
            ],
        ];
        $oneDrive = [
            self::frame(1, self::whole('/shelf', 1), self::whole('/shelf2', 2, 'a')),
            self::frame(2, self::whole('/shelf', 3), self::whole('/shelf2', 4, 'a')),
        ];
        yield 'one drive' => [
            new CardSeen($oneDrive, true),
            ['2 frames are in two places, but on one drive: if it breaks, both are gone.'],
        ];
        yield 'one drive, and it is enough' => [new CardSeen($oneDrive, true, oneDriveIsEnough: true), []];
        yield 'a third place on another drive' => [
            new CardSeen(
                [self::frame(1, self::whole('/shelf', 1), self::whole('/shelf2', 2, 'a'), self::whole('/twin', 3))],
                true,
            ),
            [],
        ];
    }

    public function testCopiedIsNotCleared(): void
    {
        $oneDrive = self::frame(1, self::whole('/shelf', 1), self::whole('/shelf2', 2, 'a'));
        $copied = Clearance::of(new CardSeen([$oneDrive], true));
        self::assertTrue($copied->copied);
        self::assertFalse($copied->cleared);
        self::assertFalse(
            Clearance::of(new CardSeen([$oneDrive, new CardFileSeen('notes.txt', null)], true))->copied,
            'more than the second drive is missing',
        );
        self::assertFalse(
            Clearance::of(
                new CardSeen([self::frame(1, self::whole('/shelf', 1), self::whole('/twin', 2))], true),
            )->copied,
        );
    }

    public function testFilesAreCounted(): void
    {
        $clearance = Clearance::of(new CardSeen([
            self::frame(
                1,
                self::whole('/shelf', 1),
                self::whole('/twin', 2),
            ), self::frame(2, self::whole('/shelf', 3)), self::housekeeping(), new CardFileSeen('A.CRM', null),
            self::frame(
                3,
                self::whole('/shelf', 5),
                CopySeen::not('/twin', CopyStanding::Touched),
            ), new CardFileSeen('b.jpg', 4, leftOut: true), new CardFileSeen('c.jpg', 5, leftOut: true, letGo: true),
        ], true));
        self::assertSame(
            [7, 1, 1, 1, 1, 1],
            [
                $clearance->files,
                $clearance->inTwoPlaces,
                $clearance->housekeeping,
                $clearance->unknown,
                $clearance->leftOut,
                $clearance->touched,
            ],
        );
    }

    private static function frame(int $id, CopySeen ...$copies): CardFileSeen
    {
        return new CardFileSeen("DCIM/$id.jpg", $id, isFiled: true, copies: array_values($copies));
    }

    private static function housekeeping(): CardFileSeen
    {
        return new CardFileSeen('MISC/AUTPRINT.MRK', null, 'print order');
    }

    private static function whole(string $root, int $inode, ?string $disk = null): CopySeen
    {
        $disk ??= '/shelf' === $root ? 'a' : 'b';

        return CopySeen::whole($root, new Drive('uuid:'.$disk, '/', 'ext4', ['disk:'.$disk]), (string) $inode);
    }
}
