<?php

declare(strict_types=1);

namespace Velvet\Core\Tests\Filed;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Velvet\Core\Capture\Orientation;
use Velvet\Core\Filed\FrameWords;
use Velvet\Core\Filed\Rotation;
use Velvet\Core\Filed\Verdict;
use Velvet\Core\Metadata\Metadata;

/**
 * What is said of a frame, changed and taken back; here its texts by field, and its stars.
 *
 * @phpstan-type Said array{array<string, string>, int|null}
 */
final class FrameWordsTest extends TestCase
{
    public function testWhatWasAskedForHereStandsAboveWhatItsFilesSaid(): void
    {
        $own = new Metadata(['headline' => 'Theirs', 'city' => 'Saltmarsh', 'title' => 'Regatta'], rating: 2);
        $words = new FrameWords(1, ['headline' => 'Ours', 'city' => ''], null, $own, [5]);
        self::assertSame(['headline' => 'Ours', 'title' => 'Regatta'], $words->texts(), 'empty takes a field out');
        self::assertSame(2, $words->rating());
        self::assertSame(0, (new FrameWords(1, [], 0, $own, []))->rating(), 'no stars is a word, too');
        self::assertSame(0, (new FrameWords(1, [], null, new Metadata(), []))->rating());
    }

    public function testOfTwoFilesTheFirstOneHolds(): void
    {
        $words = new FrameWords(1, [], null, new Metadata(['headline' => 'Raw'], rating: 3), []);
        $with = $words->ownWith(new Metadata(['headline' => 'JPEG', 'city' => 'Saltmarsh'], ['quay'], rating: 5));
        self::assertSame([['headline' => 'Raw', 'city' => 'Saltmarsh'], 3], [$with->texts, $with->rating]);
        self::assertNull($with->keywords, 'they are the frame\'s');
        $empty = new FrameWords(1, [], null, new Metadata(), []);
        self::assertSame(5, $empty->ownWith(new Metadata(rating: 5))->rating);
    }

    /**
     * @param Said $now
     * @param Said $before
     * @param Said $expected
     */
    #[DataProvider('changes')]
    public function testAChangeIsTakenBack(array $now, array $before, array $expected): void
    {
        $own = new Metadata(['headline' => 'Own'], rating: 4);
        $back = (new FrameWords(1, $now[0], $now[1], $own, [5, 6]))
            ->backTo(new FrameWords(1, $before[0], $before[1], new Metadata(), [6]));
        self::assertEquals($expected[0], $back->says);
        self::assertSame([$expected[1], [6], 1], [$back->rating, $back->keywords, $back->frame]);
        self::assertSame($own, $back->own, 'what its files said is no part of it');
    }

    /** @return iterable<string, array{Said, Said, Said}> */
    public static function changes(): iterable
    {
        yield 'of a text that was there' => [
            [['city' => 'New'], null],
            [['city' => 'Old'], null],
            [['city' => 'Old'], 4],
        ];
        yield 'of one said first: it is taken out of the files' => [
            [['city' => 'New'], null], [[], null], [['city' => ''], 4],
        ];
        yield 'of one that the files said themselves: it is theirs again' => [
            [['headline' => 'New'], null], [[], null], [['headline' => 'Own'], 4],
        ];
        yield 'of one that was taken out' => [
            [['city' => ''], null],
            [['city' => 'Old'], null],
            [['city' => 'Old'], 4],
        ];
        yield 'of stars' => [[[], 5], [[], 2], [[], 2]];
        yield 'of stars given first: the files have theirs' => [[[], 5], [[], null], [[], 4]];
    }

    public function testStarsGivenFirstAreTakenOutOfFilesThatHadNone(): void
    {
        $none = new Metadata();
        $given = new FrameWords(1, [], 5, $none, []);
        self::assertSame(0, $given->backTo(new FrameWords(1, [], null, $none, []))->rating);
        $untouched = new FrameWords(1, [], null, $none, []);
        self::assertNull($untouched->backTo(new FrameWords(1, [], null, $none, []))->rating, 'nobody spoke of stars');
    }

    public function testAVerdictIsTakenBackAndFilesSayItOnlyWhereTheyAreTo(): void
    {
        $own = new Metadata(['headline' => 'Own'], rating: 2);
        $open = new FrameWords(1, [], null, $own, [5]);
        $kept = new FrameWords(1, [], null, $own, [5], Verdict::Kept);
        $struck = new FrameWords(1, [], null, $own, [5], Verdict::Struck);
        self::assertTrue($open->readsAs($struck, false));
        self::assertFalse($open->readsAs($struck, true));
        self::assertTrue($open->readsAs($kept, true));
        self::assertTrue($open->readsAs($kept, false));
        self::assertFalse($open->readsAs(new FrameWords(1, [], 4, $own, [5]), false));
        self::assertFalse($open->readsAs(new FrameWords(1, [], null, $own, [5, 6]), false));
        self::assertTrue($open->readsAs(new FrameWords(1, [], null, $own, [5], tabs: [3]), false), 'their words do');
        self::assertSame([3], $kept->backTo(new FrameWords(1, [], null, $own, [5], tabs: [3]))->tabs);
        self::assertSame(Verdict::Open, $kept->backTo($open)->verdict);
        self::assertSame(Verdict::Kept, $kept->withOwn(new Metadata())->verdict);
        self::assertEquals(
            $kept,
            $open->saying(new FrameWords(1, [], null, new Metadata(), [5], Verdict::Kept)),
            'what its files say themselves stays',
        );
    }

    public function testARatingOfMinusOneIsTheVerdictWhereFilesSayIt(): void
    {
        $none = new Metadata();
        $struck = new FrameWords(1, [], 3, $none, [], Verdict::Struck);
        $open = new FrameWords(1, [], null, new Metadata(rating: 2), []);
        self::assertSame([3, -1], [$struck->ratingWritten(false), $struck->ratingWritten(true)]);
        self::assertSame([null, 2], [$open->ratingWritten(false), $open->ratingWritten(true)]);

        self::assertSame([null, Verdict::Struck], $open->ratedOutside(-1, true));
        self::assertSame([-1, null], $open->ratedOutside(-1, false));
        self::assertSame([4, Verdict::Open], $struck->ratedOutside(4, true));
        self::assertSame([0, Verdict::Open], $struck->ratedOutside(null, true));
        self::assertSame([4, null], $struck->ratedOutside(4, false));
    }

    public function testWhatAnotherProgramRotatedStaysSoWhenAnEarlierChangeIsTakenBack(): void
    {
        $before = new FrameWords(1, [], null, new Metadata(['orientation' => '1']), []);
        $starred = $before->saying(new FrameWords(1, ['title' => 'Quay'], 3, new Metadata(), []));
        $back = $starred->shownAs(Orientation::Right)->backTo($before);
        self::assertSame([Orientation::Right, ''], [$back->shown(), $back->says['title'] ?? null]);
        $rotated = $before->shownAs(Orientation::AsStored);
        self::assertSame(Orientation::AsStored, $starred->shownAs(Orientation::Left)->backTo($rotated)->shown());
    }

    public function testAQuarterRightAndLeftFromEveryWayOfShowingIsTheSameAgain(): void
    {
        foreach (Orientation::cases() as $shown) {
            self::assertSame($shown, Rotation::Left->of(Rotation::Right->of($shown)));
            self::assertSame(Orientation::AsStored, $shown->then($shown->undone()));
            self::assertSame(Orientation::AsStored, $shown->undone()->then($shown));
        }
    }
}
