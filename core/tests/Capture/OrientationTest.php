<?php

declare(strict_types=1);

namespace Velvet\Core\Tests\Capture;

use PHPUnit\Framework\TestCase;
use Velvet\Core\Capture\Orientation;
use Velvet\Core\Tests\TemporaryFolder;

/** Where points are shown, as vips shows pictures of every orientation. */
final class OrientationTest extends TestCase
{
    use TemporaryFolder;

    public function testAPointIsShownWhereVipsShowsIt(): void
    {
        foreach (Orientation::cases() as $orientation) {
            $image = imagecreatetruecolor(12, 8);
            self::assertInstanceOf(\GdImage::class, $image);
            imagesetpixel($image, 2, 1, 0xFFFFFF);
            imagepng($image, $this->folder.'/a.png');
            self::shell('vips copy a.png a.tif', $this->folder);
            ExifTool::write($this->folder.'/a.tif', ['-IFD0:Orientation#='.$orientation->value]);
            self::shell('vips autorot a.tif a.v && vips copy a.v b.png', $this->folder);
            $shown = imagecreatefrompng($this->folder.'/b.png');
            self::assertInstanceOf(\GdImage::class, $shown);
            [$x, $y] = $orientation->place([2.5 / 12, 1.5 / 8]);
            $at = imagecolorat($shown, (int) ($x * imagesx($shown)), (int) ($y * imagesy($shown)));
            self::assertSame(0xFF, $at & 0xFF, $orientation->name);
        }
    }

    private static function shell(string $command, string $folder): void
    {
        exec('cd '.escapeshellarg($folder)." && $command 2>&1", $output, $result);
        self::assertSame(0, $result, implode("\n", $output));
    }
}
