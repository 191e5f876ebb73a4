<?php

declare(strict_types=1);

namespace Velvet\Core\Tests\Style;

use Opis\JsonSchema\Validator;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Velvet\Core\Card\CardFile;
use Velvet\Core\Card\FileKind;
use Velvet\Core\Style\HouseStyle;
use Velvet\Core\Style\Kinds;
use Velvet\Core\Style\Pairs;
use Velvet\Core\Style\StyleRefused;
use Velvet\Core\Style\Ties;

final class HouseStyleTest extends TestCase
{
    public function testADocumentComesBackAsItWasAndFitsTheSchema(): void
    {
        foreach ([HouseStyle::standard(), HouseStyle::fromArray(self::weddings())] as $style) {
            $document = $style->toArray();
            self::assertSame($document, HouseStyle::fromArray($document)->toArray());
            self::assertTrue(self::isValid($document), $style->name);
        }
        self::assertSame('Another', HouseStyle::standard()->called('Another')->name);
    }

    /** @param array<string, mixed> $change */
    #[DataProvider('wrong')]
    public function testWhatIsWrongIsRefusedWithItsPlaceBySchemaAndProgram(
        array $change,
        string $sentence,
        bool $schemaSeesIt = true,
    ): void {
        $document = $change + self::weddings();
        if ($schemaSeesIt) {
            self::assertFalse(self::isValid($document), 'the schema, too');
        }
        $this->expectException(StyleRefused::class);
        $this->expectExceptionMessage($sentence);
        HouseStyle::fromArray($document);
    }

    /** @return iterable<string, array{0: array<string, mixed>, 1: string, 2?: bool}> */
    public static function wrong(): iterable
    {
        yield 'no name' => [['name' => ' '], 'name: a style needs a name'];
        yield 'a rule that there is not' => [['watermark' => true], 'watermark: there is no such rule'];
        yield 'a rule within that there is not' => [['take' => ['raws' => true]], 'take.raws: there is no such rule'];
        yield 'no time of day' => [['divide' => ['day_starts' => '25:00']], 'divide.day_starts'];
        yield 'no pause' => [['divide' => ['break_after' => 0]], 'divide.break_after'];
        yield 'a frame’s piece in a folder' => [
            ['folder' => [[['piece' => 'counter']]]],
            'folder, level 1: “counter” differs from frame to frame',
        ];
        yield 'a file pattern that is not unique' => [
            ['file' => [['piece' => 'shoot_name']]],
            'file: Nothing in this file pattern tells two frames',
        ];
        yield 'a piece that there is not' => [
            ['file' => [['piece' => 'counter'], ['piece' => 'mood']]],
            'file, piece 2: There is no piece “mood”',
        ];
        yield 'a subfolder that cannot be' => [
            ['subfolders' => ['raw' => 'a/b']],
            'subfolders.raw: “a/b” cannot be the name of a folder everywhere, but “a-b” can',
            false,
        ];
        yield 'an unsafe skeleton' => [['subfolders' => ['skeleton' => ['../up']]], 'subfolders.skeleton', false];
        yield 'pairs' => [['take' => ['pairs' => 'heif']], 'take.pairs'];
        yield 'kinds' => [['take' => ['kinds' => 'tiff']], 'take.kinds'];
        yield 'ties' => [['ties' => ['cards' => 'LANTERN']], 'ties.cards'];
    }

    /** Documents that were kept or exported before a raw file could lead its pair are read for good. */
    public function testWhatPairsWereCalledBeforeIsUnderstood(): void
    {
        $older = ['take' => ['pairs' => 'together']] + self::weddings();
        self::assertTrue(self::isValid($older));
        self::assertSame(Pairs::Jpeg, HouseStyle::fromArray($older)->pairs);
        self::assertSame(Pairs::Jpeg, HouseStyle::fromArray(self::weddings())->pairs);
    }

    public function testKindsLeaveNoFrameBehind(): void
    {
        $pair = ['a.trw', 'a.jpg', 'a.wav', 'a.xmp'];
        self::assertSame(['a.trw', 'a.wav', 'a.xmp'], self::names($pair, Kinds::Raw, true));
        self::assertSame(['a.jpg', 'a.xmp'], self::names($pair, Kinds::Jpeg, false));
        self::assertSame($pair, self::names($pair, Kinds::Both, true));
        self::assertSame(['b.jpg'], self::names(['b.jpg'], Kinds::Raw, true), 'it has nothing else');
    }

    public function testTiesFitCardsAndCameras(): void
    {
        $ties = new Ties(['Heron 5'], ['lantern']);
        self::assertTrue($ties->fit('LANTERN', []));
        self::assertTrue($ties->fit('KILN', ['Tarn Optical Heron 5 TO5-204417']));
        self::assertFalse($ties->fit('KILN', ['Tarn Optical Egret']));
    }

    /**
     * @param non-empty-list<string> $paths
     *
     * @return list<string>
     */
    private static function names(array $paths, Kinds $kinds, bool $companions): array
    {
        $files = array_map(
            static fn (string $path): CardFile => new CardFile($path, FileKind::ofName($path), 1, 0),
            $paths,
        );

        return array_map(static fn (CardFile $file): string => $file->name(), $kinds->of($files, $companions));
    }

    /** @return array<string, mixed> */
    private static function weddings(): array
    {
        return [
            'name' => 'Weddings',
            'divide' => ['by' => 'pause', 'day_starts' => '06:00', 'break_after' => 300],
            'folder' => [
                [['piece' => 'shoot_day', 'format' => 'yyyy']],
                [
                    ['piece' => 'client', 'case' => 'upper', 'blanks' => 'joined', 'length' => 12],
                    ['piece' => 'text', 'text' => '_'],
                    ['piece' => 'shoot_name'],
                ],
            ],
            'file' => [
                ['piece' => 'initials'],
                ['piece' => 'text', 'text' => '-'],
                ['piece' => 'shot_time', 'format' => 'HHmmss'],
                ['piece' => 'text', 'text' => '-'],
                ['piece' => 'counter', 'start' => 10, 'step' => 10, 'width' => 5, 'scope' => 'day'],
            ],
            'extension' => 'kept',
            'subfolders' => [
                'raw' => 'capture',
                'jpeg' => null,
                'skeleton' => ['selects', 'export/large', 'export/web'],
            ],
            'initials' => 'IVH',
            'take' => ['kinds' => 'raw', 'companions' => false],
            'ties' => ['cameras' => ['Heron 5'], 'cards' => ['LANTERN'], 'shelves' => ['Studio']],
        ];
    }

    /** @param array<string, mixed> $document */
    private static function isValid(array $document): bool
    {
        $schema = json_decode(
            (string) file_get_contents(\dirname(__DIR__, 3).'/docs/house-style.schema.json'),
            false,
            64,
            \JSON_THROW_ON_ERROR,
        );
        \assert($schema instanceof \stdClass);
        unset($schema->{'$id'});

        return (new Validator())->validate(
            json_decode(json_encode($document, \JSON_THROW_ON_ERROR)),
            $schema,
        )->isValid();
    }
}
