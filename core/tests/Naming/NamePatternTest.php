<?php

declare(strict_types=1);

namespace Velvet\Core\Tests\Naming;

use Eris\Generators;
use Eris\TestTrait;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Velvet\Core\Capture\ShotTime;
use Velvet\Core\Naming\CounterScope;
use Velvet\Core\Naming\CountersSoFar;
use Velvet\Core\Naming\FolderPattern;
use Velvet\Core\Naming\FrameNaming;
use Velvet\Core\Naming\FreshCounters;
use Velvet\Core\Naming\NamePattern;
use Velvet\Core\Naming\PatternRefused;
use Velvet\Core\Naming\Piece;
use Velvet\Core\Naming\PieceKind;
use Velvet\Core\Naming\PortableName;
use Velvet\Core\Naming\ShootFrames;
use Velvet\Core\Naming\ShootNaming;
use Velvet\Core\Naming\Stems;
use Velvet\Core\Shoot\Day;
use Velvet\Core\Shoot\InRun;
use Velvet\Core\Shoot\SequenceKind;
use Velvet\Core\Style\HouseStyle;
use Velvet\Core\Tests\TemporaryFolder;

final class NamePatternTest extends TestCase
{
    use TemporaryFolder;
    use TestTrait;

    /** @param list<array<string, mixed>> $pieces */
    #[DataProvider('patterns')]
    public function testPieces(array $pieces, string $name): void
    {
        $pattern = NamePattern::ofFiles([...array_map(Piece::fromArray(...), $pieces), Piece::counter(1)]);
        self::assertSame($name.'7', $pattern->in(self::shoot())->stem(self::frame(), 7));
    }

    /** @return iterable<string, array{list<array<string, mixed>>, string}> */
    public static function patterns(): iterable
    {
        $dash = ['piece' => 'text', 'text' => '-'];
        yield 'day of the shoot, not of the shot' => [[['piece' => 'shoot_day'], $dash], '2026-05-02-'];
        yield 'the shot’s own time' => [
            [['piece' => 'shot_time', 'format' => 'yyyyMMdd_HHmmssSSS'], $dash],
            '20260503_011205250-',
        ];
        yield 'colons of a time' => [[['piece' => 'shot_time', 'format' => 'HH:mm'], $dash], '01-12-'];
        yield 'quoted letters' => [[['piece' => 'shot_time', 'format' => "yyyy'w'ww"], $dash], '2026w18-'];
        yield 'name as typed' => [[['piece' => 'shoot_name'], $dash], 'Lantern Regatta - night-'];
        yield 'name with hyphens, lower' => [
            [['piece' => 'shoot_name', 'case' => 'lower', 'blanks' => 'hyphen'], $dash],
            'lantern-regatta-night-',
        ];
        yield 'name with underscores, upper' => [
            [['piece' => 'shoot_name', 'case' => 'upper', 'blanks' => 'underscore'], $dash],
            'LANTERN_REGATTA_NIGHT-',
        ];
        yield 'name joined and short' => [
            [['piece' => 'shoot_name', 'blanks' => 'joined', 'length' => 9], $dash],
            'LanternRe-',
        ];
        yield 'kind and client' => [
            [['piece' => 'shoot_kind'], $dash, ['piece' => 'client'], $dash],
            'Reportage-Saltmarsh Pottery-',
        ];
        yield 'camera and the tail of its serial' => [
            [['piece' => 'camera'], $dash, ['piece' => 'body_serial', 'length' => 3], $dash],
            'A-417-',
        ];
        yield 'original name' => [[['piece' => 'original_name'], $dash], 'TARA0417-'];
        yield 'original number' => [[['piece' => 'original_number', 'width' => 6], $dash], '000417-'];
        yield 'card and initials' => [
            [['piece' => 'card_label'], $dash, ['piece' => 'initials'], $dash],
            'LANTERN-IVH-',
        ];
        yield 'number in its run' => [[['piece' => 'sequence', 'width' => 2], $dash], '03-'];
        yield 'an empty value takes its separator along' => [
            [
                ['piece' => 'original_number', 'length' => null],
                $dash,
                ['piece' => 'text', 'text' => ' '],
                ['piece' => 'text', 'text' => '(x)'],
                $dash,
            ],
            '0417-(x)-',
        ];
    }

    /** LDML patterns are those of PHP's intl, over a year of noons with both clock changes and a leap day in it. */
    public function testDatesAgreeWithIntl(): void
    {
        foreach ([
            'yyyy-MM-dd',
            'yyMMdd',
            'EEEE d MMMM yyyy',
            'yyyy-DDD',
            "YYYY-'W'ww-e",
            'HHmm',
            'Q yyyy',
        ] as $format) {
            $intl = new \IntlDateFormatter(
                'en_GB',
                \IntlDateFormatter::FULL,
                \IntlDateFormatter::FULL,
                'UTC',
                null,
                $format,
            );
            $pattern = NamePattern::ofFiles(
                [Piece::fromArray(['piece' => 'shot_time', 'format' => $format]), Piece::text('_'), Piece::counter(1)],
            )->in(self::shoot());
            for ($n = 0; $n < 370; ++$n) {
                $day = new \DateTimeImmutable("2027-12-30 12:00:00 UTC +$n days");
                self::assertSame(
                    $intl->format($day).'_1',
                    $pattern->stem(new FrameNaming(ShotTime::fromText($day->format('Y-m-d\TH:i:s')), 'x'), 1),
                );
            }
        }
    }

    /** Maker and camera of a folder are those of all frames, or of none; numbers are those of the ends. */
    public function testAFolderCanSayWhatItsFramesAre(): void
    {
        $pattern = NamePattern::ofFolder([
            Piece::words(PieceKind::Maker), Piece::text(' '), Piece::words(PieceKind::Camera), Piece::text(' '),
            Piece::date(PieceKind::FirstTime, "HH'h'"), Piece::text(' '),
            Piece::fromArray(['piece' => 'first_number', 'width' => 4]), Piece::text('-'),
            Piece::fromArray(['piece' => 'last_number', 'width' => 4]),
        ]);
        $frame = static fn (?string $at, string $name, ?int $number, string $camera): FrameNaming => new FrameNaming(
            null === $at ? null : ShotTime::fromText($at),
            $name,
            $number,
            $camera,
            maker: 'Tarn Optical',
        );
        $folder = static fn (FrameNaming ...$frames): string => $pattern->folder(
            new ShootNaming(Day::fromText('2026-05-02'), '', frames: ShootFrames::of(array_values($frames))),
        );
        self::assertSame('Tarn Optical Heron 5 19h 0417-0003', $folder(
            $frame(null, 'scan', null, 'Heron 5'),
            $frame('2026-05-02T19:31:40', 'TARA0417', 417, 'Heron 5'),
            $frame('2026-05-03T01:31:40', 'TARA0003', 3, 'Heron 5'),
        ));
        self::assertSame('Tarn Optical 19h 0417-0417', $folder(
            $frame('2026-05-02T19:31:40', 'TARA0417', 417, 'Heron 5'),
            $frame('2026-05-03T01:31:40', 'scan', null, 'Heron 7'),
        ));
        self::assertSame('undated', $folder());
        self::assertSame(
            'Tarn Optical_Heron 5',
            NamePattern::ofFiles([
                Piece::words(PieceKind::Maker), Piece::text('_'), Piece::words(PieceKind::Camera), Piece::counter(),
            ])->in(new ShootNaming(null, ''))->stem($frame(null, 'scan', null, 'Heron 5'), null),
            'each frame says its own',
        );
    }

    public function testATripIsALevelOfItsShootsOnly(): void
    {
        $style = HouseStyle::fromArray(['folder' => [
            [['piece' => 'shoot_day', 'format' => 'yyyy']],
            [['piece' => 'text', 'text' => 'Trip '], ['piece' => 'trip']],
            [['piece' => 'trip'], ['piece' => 'text', 'text' => ' '], ['piece' => 'shoot_name']],
        ]] + HouseStyle::standard()->toArray());
        $path = static fn (string $trip): string => $style->folder->path(
            new ShootNaming(Day::fromText('2026-05-02'), 'Tide clock', trip: $trip),
        );
        self::assertSame('2026/Trip Tarn Hollow/Tarn Hollow Tide clock', $path('Tarn Hollow'));
        self::assertSame('2026/Tide clock', $path(' '));
    }

    public function testEmptyValuesLeaveNoGaps(): void
    {
        $standard = HouseStyle::standard();
        self::assertSame('2026/2026-05-02', $standard->folder->path(new ShootNaming(Day::fromText('2026-05-02'), ' ')));
        self::assertSame('undated/undated Scans', $standard->folder->path(new ShootNaming(null, 'Scans')));
        self::assertSame(
            '2026-05-02_0001',
            $standard->file->in(new ShootNaming(Day::fromText('2026-05-02'), '???'))->stem(self::frame(), 1),
        );
        self::assertSame(
            '2026-05-02_lantern-regatta_12345',
            $standard->file->in(
                new ShootNaming(Day::fromText('2026-05-02'), 'Lantern Regatta'),
            )->stem(self::frame(), 12_345),
        );
        self::assertSame(
            'unnamed',
            FolderPattern::of(
                [NamePattern::ofFolder([Piece::fromArray(['piece' => 'client'])])],
            )->path(new ShootNaming(Day::fromText('2026-05-02'), 'x')),
        );
    }

    /** @param list<array<string, mixed>> $pieces */
    #[DataProvider('refused')]
    public function testWhatCannotNameFilesIsRefusedInASentence(array $pieces, string $sentence): void
    {
        $this->expectException(PatternRefused::class);
        $this->expectExceptionMessage($sentence);
        NamePattern::ofFiles(array_map(Piece::fromArray(...), $pieces));
    }

    /** @return iterable<string, array{list<array<string, mixed>>, string}> */
    public static function refused(): iterable
    {
        yield 'nothing' => [[], 'at least one piece'];
        yield 'nothing unique' => [
            [['piece' => 'shoot_name'], ['piece' => 'shot_time', 'format' => 'HH:mm']],
            'tells two frames of a shoot apart',
        ];
        yield 'seconds in quotes are none' => [
            [['piece' => 'shot_time', 'format' => "yyyy'ss'"]],
            'tells two frames of a shoot apart',
        ];
        yield 'too long' => [array_fill(0, 25, ['piece' => 'counter']), '24 pieces at most'];
        yield 'two counters' => [[['piece' => 'counter'], ['piece' => 'counter']], 'one counter only'];
        yield 'no such piece' => [[['piece' => 'weather']], 'no piece “weather”'];
        yield 'no date pattern' => [
            [['piece' => 'shot_time', 'format' => 'jjj'], ['piece' => 'counter']],
            'not a date pattern',
        ];
        yield 'only forbidden text' => [
            [['piece' => 'text', 'text' => '|?'], ['piece' => 'counter']],
            'must have a text',
        ];
        yield 'a counter without digits' => [[['piece' => 'counter', 'width' => 0]], 'from 1 to 9'];
    }

    public function testFoldersCannotDifferFromFrameToFrame(): void
    {
        $this->expectExceptionMessage('cannot stand in the name of a folder');
        NamePattern::ofFolder([Piece::counter()]);
    }

    public function testACounterGoesOnBehindWhatIsThereAndPassesOverWhatIsTaken(): void
    {
        $stems = $this->stems(
            HouseStyle::standard()->file,
            [
                '2026-05-02_LANTERN-REGATTA-NIGHT_0007.JPG',
                'other.jpg',
                '2026-05-02_lantern-regatta-night_0009 copy.jpg',
                '2026-05-02_lantern-regatta-night_0008.trw.xmp',
            ],
        );
        self::assertSame(
            ['2026-05-02_lantern-regatta-night_0009', '2026-05-02_lantern-regatta-night_0010'],
            array_map(static fn (): string => $stems(self::frame())[0], [1, 2]),
        );
    }

    public function testNamesWithDotsOfTheirOwnAreSeenToBeTaken(): void
    {
        $pattern = NamePattern::ofFiles(
            [
                Piece::fromArray(['piece' => 'shoot_day', 'format' => 'yyyy.MM.dd']),
                Piece::text('.'),
                Piece::fromArray(['piece' => 'original_name']),
            ],
        );
        $stems = $this->stems($pattern, ['2026.05.02.TARA0417.jpg']);
        self::assertSame(['2026.05.02.TARA0417-2', null, true], $stems(self::frame()));
        self::assertSame(['2026.05.02.TARA0417-3', null, true], $stems(self::frame()));
    }

    /** Some drives give names back decomposed (HFS+, UAX #15): they are seen to be taken all the same. */
    public function testNamesAreTakenInWhateverFormADriveGivesThemBack(): void
    {
        $pattern = NamePattern::ofFiles(
            [
                Piece::fromArray(['piece' => 'client']),
                Piece::text('-'),
                Piece::fromArray(['piece' => 'original_number']),
            ],
        );
        $shoot = new ShootNaming(Day::fromText('2026-05-02'), '', '', "Cafe\u{301} Été");
        $composed = "Caf\u{e9} \u{c9}t\u{e9}-0417";
        $written = static fn (int $form): string => \is_string(
            $name = \Normalizer::normalize($composed, $form),
        ) ? $name : self::fail('It cannot be written so.');
        foreach ([\Normalizer::FORM_C, \Normalizer::FORM_D] as $form) {
            $onDrive = $written($form).'.JPG';
            touch($this->folder.'/'.$onDrive);
            $present = array_values(
                array_filter(
                    (array) scandir($this->folder),
                    static fn (mixed $name): bool => \is_string($name) && '.' !== $name[0],
                ),
            );
            $stems = new Stems(static fn (): array => $present, new FreshCounters());
            self::assertSame($composed.'-2', $stems->next('f', $shoot, $pattern->in($shoot), self::frame())[0]);
            unlink($this->folder.'/'.$onDrive);
        }
    }

    public function testStartStepAndScopes(): void
    {
        $soFar = new class implements CountersSoFar {
            public function last(CounterScope $scope, string $key): ?int
            {
                return ['day 2026-05-02' => 40, 'year 2026' => 900][$scope->value.' '.$key] ?? null;
            }
        };
        foreach (['shoot' => '0010', 'day' => '0045', 'year' => '0905', 'intake' => '0010'] as $scope => $first) {
            $pattern = NamePattern::ofFiles([Piece::counter(4, CounterScope::from($scope), 10, 5)]);
            self::assertSame($first, $this->stems($pattern, [], $soFar)(self::frame())[0], $scope);
        }
    }

    /**
     * Long names, of any script: never longer than a path allows, always created by the file system as they were asked
     * for.
     */
    public function testAnyPatternGivesPortableUniqueNamesThatReallyCanBeCreated(): void
    {
        $pieces = Generators::elements(
            ['piece' => 'shoot_name'], ['piece' => 'shoot_name', 'case' => 'upper', 'blanks' => 'joined'],
            ['piece' => 'client', 'blanks' => 'hyphen'], ['piece' => 'text', 'text' => '. '],
            ['piece' => 'text', 'text' => 'x:y'], ['piece' => 'shot_time', 'format' => 'EEEE HH:mm'],
            ['piece' => 'original_name', 'length' => 5], ['piece' => 'camera'], ['piece' => 'sequence'],
        );
        $this->limitTo(150)->forAll(
            Generators::vector(4, $pieces),
            Generators::string(),
            Generators::choose(0, 300),
            Generators::choose(0, 1),
        )->disableShrinking()->then(function (mixed $rows, mixed $typed, mixed $length, mixed $unique): void {
            \assert(\is_array($rows) && \is_string($typed) && \is_int($length));
            $made = array_values(
                array_map(static fn (mixed $row): Piece => Piece::fromArray(\is_array($row) ? $row : []), $rows),
            );
            $pattern = NamePattern::ofFiles(
                [...$made, 0 === $unique ? Piece::counter(2) : Piece::fromArray(['piece' => 'original_number'])],
            );
            $shoot = new ShootNaming(
                Day::fromText('2026-05-02'),
                $typed.str_repeat('灯', $length),
                '',
                'Cafe'.str_repeat("e\u{301}", $length),
            );
            $stems = new Stems(static fn (): array => [], new FreshCounters());
            $names = [];
            for ($n = 0; $n < 4; ++$n) {
                [$stem] = $stems->next('f', $shoot, $pattern->in($shoot), self::frame());
                $names[] = $stem;
                self::assertLessThanOrEqual(NamePattern::LONGEST + 4, \strlen($stem));
                self::assertTrue(\Normalizer::isNormalized($stem));
                self::assertDoesNotMatchRegularExpression('~[<>:"/\\\\|?*\x00-\x1F\x7F]|^[ .]|[ .]$~', $stem);
                touch($this->folder.'/'.$stem.'.jpg');
                self::assertContains($stem.'.jpg', (array) scandir($this->folder));
                unlink($this->folder.'/'.$stem.'.jpg');
            }
            self::assertSameSize($names, array_unique(array_map(PortableName::folded(...), $names)));
        });
    }

    public function testTenThousandFramesOfOneSecondHaveTenThousandNames(): void
    {
        $pattern = NamePattern::ofFiles([Piece::fromArray(['piece' => 'shot_time', 'format' => 'yyyyMMdd-HHmmss'])]);
        $stems = $this->stems($pattern, []);
        $names = [];
        for ($n = 0; $n < 10_000; ++$n) {
            $names[$stems(self::frame())[0]] = true;
        }
        self::assertCount(10_000, $names);
        self::assertArrayHasKey('20260503-011205', $names);
        self::assertArrayHasKey('20260503-011205-10000', $names);
    }

    /**
     * @param list<string> $present
     *
     * @return \Closure(FrameNaming): array{string, int|null, bool}
     */
    private function stems(NamePattern $pattern, array $present, CountersSoFar $soFar = new FreshCounters()): \Closure
    {
        $stems = new Stems(static fn (): array => $present, $soFar);

        return static fn (FrameNaming $frame): array => $stems->next(
            'f',
            self::shoot(),
            $pattern->in(self::shoot()),
            $frame,
        );
    }

    private static function shoot(): ShootNaming
    {
        return new ShootNaming(
            Day::fromText('2026-05-02'),
            'Lantern Regatta: night',
            'Reportage',
            'Saltmarsh Pottery',
            'IVH',
        );
    }

    private static function frame(): FrameNaming
    {
        return new FrameNaming(
            ShotTime::fromText('2026-05-03T01:12:05.250'),
            'TARA0417',
            417,
            'A',
            'TO5-204417',
            'LANTERN',
            new InRun(SequenceKind::Bracket, 1, 3),
        );
    }
}
