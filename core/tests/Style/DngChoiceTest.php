<?php

declare(strict_types=1);

namespace Velvet\Core\Tests\Style;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Velvet\Core\Capture\CameraBody;
use Velvet\Core\Capture\ShotTime;
use Velvet\Core\Card\CardFile;
use Velvet\Core\Card\FileKind;
use Velvet\Core\Naming\FrameNaming;
use Velvet\Core\Naming\LetterCase;
use Velvet\Core\Plan\EntryToFile;
use Velvet\Core\Plan\FoldersOnDisk;
use Velvet\Core\Plan\FrameToFile;
use Velvet\Core\Plan\IntakePlan;
use Velvet\Core\Shoot\Day;
use Velvet\Core\Style\DngChoice;
use Velvet\Core\Style\HouseStyle;
use Velvet\Core\Style\StyleRefused;

/** What the plan says of raw files that become DNG. */
final class DngChoiceTest extends TestCase
{
    /** @param list<string> $names */
    #[DataProvider('choices')]
    public function testThePlanSaysWhatIsFiledInTheEnd(
        DngChoice $ofStyle,
        ?DngChoice $ofEntry,
        array $names,
        int $room,
    ): void {
        $plan = $this->plan(HouseStyle::standard()->today(dng: $ofStyle), $ofEntry);
        $frame = $plan->entries[0]->frames[0];
        self::assertSame(['quay_0001.trw', 'quay_0001.jpg'], self::names($frame->to), 'copied as ever');
        self::assertSame($names, self::names($frame->filedAs));
        self::assertSame([5_000, $room], [$plan->bytes(), $plan->room()]);
        self::assertSame($names[0], self::names([(string) $plan->entries[0]->sample()])[0]);
    }

    /** @return iterable<string, array{DngChoice, DngChoice|null, list<string>, int}> */
    public static function choices(): iterable
    {
        yield 'none' => [DngChoice::No, null, ['quay_0001.trw', 'quay_0001.jpg'], 5_000];
        yield 'beside' => [DngChoice::Beside, null, ['quay_0001.trw', 'quay_0001.jpg', 'quay_0001.dng'], 9_000];
        yield 'instead' => [DngChoice::Instead, null, ['quay_0001.dng', 'quay_0001.jpg'], 5_000];
        yield 'with the raw file inside' => [DngChoice::Embed, null, ['quay_0001.dng', 'quay_0001.jpg'], 9_000];
        yield 'the entry stands over the style' => [
            DngChoice::Instead,
            DngChoice::No,
            ['quay_0001.trw', 'quay_0001.jpg'],
            5_000,
        ];
        yield 'and the other way round' => [
            DngChoice::No,
            DngChoice::Beside,
            ['quay_0001.trw', 'quay_0001.jpg', 'quay_0001.dng'],
            9_000,
        ];
    }

    public function testADngIsCalledAsItsRawFile(): void
    {
        self::assertSame(
            ['a/b.c.dng', 'a/b.DNG', 'a/b.dng'],
            [
                DngChoice::nameOf('a/b.c.trw', LetterCase::Lower),
                DngChoice::nameOf('a/b.TRW', LetterCase::Upper),
                DngChoice::nameOf('a/b.TRW', LetterCase::Kept),
            ],
        );
    }

    public function testAStyleSaysIt(): void
    {
        $style = HouseStyle::fromArray(['dng' => 'embed'] + HouseStyle::standard()->toArray());
        self::assertSame(DngChoice::Embed, $style->dng);
        self::assertSame('embed', $style->toArray()['dng']);
        $this->expectException(StyleRefused::class);
        $this->expectExceptionMessage('it is no, beside, instead or embed.');
        HouseStyle::fromArray(['dng' => 'always'] + HouseStyle::standard()->toArray());
    }

    private function plan(HouseStyle $style, ?DngChoice $dng): IntakePlan
    {
        $time = ShotTime::fromText('2026-05-02T19:31:40');
        $files = [
            new CardFile('DCIM/T0001.TRW', FileKind::Raw, 4_000, 0),
            new CardFile('DCIM/T0001.JPG', FileKind::Jpeg, 1_000, 0),
        ];
        $frame = new FrameToFile(1, $files, FrameNaming::of($time, $files[0], '', new CameraBody(), ''));

        return IntakePlan::of(
            [new EntryToFile(1, Day::fromText('2026-05-02'), 'Quay', [$frame], dng: $dng)],
            new FoldersOnDisk([]),
            $style,
        );
    }

    /**
     * @param list<string> $paths
     *
     * @return list<string>
     */
    private static function names(array $paths): array
    {
        return array_map(static fn (string $path): string => substr(basename($path), \strlen('2026-05-02_')), $paths);
    }
}
