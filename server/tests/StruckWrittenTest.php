<?php

declare(strict_types=1);

namespace Velvet\Server\Tests;

use Velvet\Core\Style\HouseStyle;
use Velvet\Server\Store\FiledFiles;
use Velvet\Server\Work\Intakes\IntakeRun;
use Velvet\Server\Work\Intakes\Intakes;
use Velvet\Server\Work\Intakes\OnFailure;
use Velvet\Server\Work\Metadata\OutsideChanges;

/**
 * Files of a struck frame say that it is rejected (-1 in `xmp:Rating`, ISO 16684-1) where the house style says so; read
 * by exiftool from both places.
 */
final class StruckWrittenTest extends FirstLookTestCase
{
    public function testAStruckFrameIsRejectedInItsFilesAndHasItsStarsAgainWhenItIsNot(): void
    {
        [$first, $second] = $this->filedWith(true);
        $this->judge(['frames' => [$first], 'stars' => 3]);
        $this->follow();
        self::assertSame(['3', ''], $this->ratings());
        $this->judge(['frames' => [$first, $second], 'verdict' => 'struck']);
        $this->follow();
        self::assertSame(['-1', '-1'], $this->ratings());
        self::assertSame([3, null], array_column($this->pass('frames'), 'stars'), 'its stars are still its own');

        $this->judge(['frames' => [$first, $second], 'verdict' => 'kept']);
        $this->follow();
        self::assertSame(['3', '0'], $this->ratings());
        $this->request('POST', '/api/shoots/1/undo');
        $this->follow();
        self::assertSame(['-1', '-1'], $this->ratings());
        $this->request('POST', '/api/shoots/1/undo');
        $this->follow();
        self::assertSame(['3', '0'], $this->ratings());
        $this->request('POST', '/api/shoots/1/redo');
        $this->follow();
        self::assertSame(['-1', '-1'], $this->ratings());

        $this->judge(['frames' => [$first], 'stars' => 5]);
        $this->follow();
        self::assertSame(['-1', '-1'], $this->ratings(), 'stars of a struck frame wait');
        $this->judge(['frames' => [$first], 'verdict' => 'open']);
        $this->follow();
        self::assertSame(['5', '-1'], $this->ratings());
    }

    public function testTheOthersOfABurstThatAreStruckByOneStrokeAreRejectedToo(): void
    {
        [$first, $second] = $this->filedWith(true);
        $this->judge(['frames' => [$first], 'verdict' => 'kept', 'struck' => [$second]]);
        $this->follow();
        self::assertSame(['', '-1'], $this->ratings(), 'the one that was kept need not be written');
    }

    public function testWithoutTheHouseStylesWordNoFileSaysIt(): void
    {
        [$first, $second] = $this->filedWith(false);
        $this->judge(['frames' => [$first, $second], 'verdict' => 'struck']);
        self::assertSame(0, $this->get(FiledFiles::class)->leftToWrite());
        self::assertSame(['', ''], $this->ratings());
    }

    public function testWhatAnEditorRejectsIsStruckAndWhatItTakesBackIsOpen(): void
    {
        [$first, $second] = $this->filedWith(true);
        $this->judge(['frames' => [$first], 'stars' => 4]);
        $this->judge(['frames' => [$second], 'verdict' => 'struck']);
        $this->follow();
        foreach ($this->tree('shelf') as $n => $path) {
            $file = escapeshellarg($this->folder.'/shelf/'.$path);
            shell_exec('exiftool -q -overwrite_original -XMP-xmp:Rating='.(0 === $n ? '-1' : '2').' '.$file);
        }
        $outside = $this->get(OutsideChanges::class);
        $outside->look(1);
        self::assertCount(2, $outside->in(1));
        $outside->takeTheirs(1);
        $outside->takeTheirs(2);
        $this->follow();
        self::assertSame(['struck', 'open'], array_column($this->pass('frames'), 'verdict'));
        self::assertSame([4, 2], array_column($this->pass('frames'), 'stars'));
        self::assertSame(['-1', '2'], $this->ratings());
    }

    /** @return list<int> two frames of one shoot */
    private function filedWith(bool $writesStruck): array
    {
        $this->shot('DCIM/100/T0000.JPG', '2026:05:02 19:31:00');
        $this->shot('DCIM/100/T0001.JPG', '2026:05:02 19:31:10');
        $intake = $this->sheet('Regatta');
        $style = HouseStyle::standard()->toArray();
        $intake->styleDocument = ['metadata' => ['writes_struck' => $writesStruck]] + $style;
        $this->entities()->flush();
        $this->get(Intakes::class)->settle($intake, false);
        $this->get(IntakeRun::class)->run($intake->id(), OnFailure::KeepGoing);

        return [1, 2];
    }

    /** @return list<string> of both frames, the same in both places */
    private function ratings(): array
    {
        $ratings = [];
        foreach (['shelf', 'twin'] as $place) {
            $ratings[$place] = array_map(fn (string $path): string => trim((string) shell_exec(
                'exiftool -s3 -XMP-xmp:Rating '.escapeshellarg($this->folder.'/'.$place.'/'.$path),
            )), $this->tree($place));
        }
        self::assertSame($ratings['shelf'], $ratings['twin']);

        return $ratings['shelf'];
    }
}
