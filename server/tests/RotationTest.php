<?php

declare(strict_types=1);

namespace Velvet\Server\Tests;

use Velvet\Server\Kernel;
use Velvet\Server\Work\Metadata\OutsideChanges;
use Velvet\Server\Work\Pictures\PictureSize;

/**
 * Rotated frames: their files say so (read by exiftool from both places), the stored pictures stay byte for byte, and
 * what is drawn follows, whatever the file said when it was drawn.
 */
final class RotationTest extends FirstLookTestCase
{
    private const CORNERS = ['top left', 'top right', 'bottom right', 'bottom left'];

    public function testAFrameIsRotatedFromHowItIsShownInItsFilesAndInItsPictures(): void
    {
        $this->marked('DCIM/100/T0000.JPG', 6); // the camera was held upright: its mark is at the top right
        $this->takeIn('Regatta');
        $stored = $this->stored();
        self::assertSame('top right', $this->drawn(PictureSize::Strip));

        $this->judge(['frames' => [1], 'rotate' => 'right']);
        self::assertSame('bottom right', $this->drawn(PictureSize::Strip), 'before its file is written');
        $this->follow();
        self::assertSame(['3', '3'], $this->said());
        self::assertSame('bottom right', $this->drawn(PictureSize::Near), 'drawn from the file that says so itself');

        $this->judge(['frames' => [1], 'rotate' => 'left'], ['frames' => [1], 'rotate' => 'left']);
        $this->follow();
        self::assertSame(['1', '1'], $this->said());
        self::assertSame('top left', $this->drawn(PictureSize::Strip));
        self::assertSame($stored, $this->stored());
    }

    public function testItIsUndoneAndMadeAgainInTheFilesToo(): void
    {
        $this->marked('DCIM/100/T0000.JPG', 8);
        $this->takeIn('Regatta');
        $this->judge(['frames' => [1], 'rotate' => 'left']);
        $this->follow();
        self::assertSame(['3', '3'], $this->said());
        $this->request('POST', '/api/shoots/1/undo');
        self::assertSame('bottom left', $this->drawn(PictureSize::Near), 'while the file still says otherwise');
        $this->follow();
        self::assertSame(['8', '8'], $this->said());
        $this->request('POST', '/api/shoots/1/redo');
        $this->follow();
        self::assertSame(['3', '3'], $this->said());
        self::assertSame('bottom right', $this->drawn(PictureSize::Near));
    }

    public function testEachOfASelectionTurnsFromItsOwnAndWhatIsNoPictureStays(): void
    {
        $this->marked('DCIM/100/T0000.JPG', 1, '2026:05:02 19:31:00');
        $this->marked('DCIM/100/T0001.JPG', 8, '2026:05:02 19:32:00');
        exec('ffmpeg -v error -y -f lavfi -i color=red:size=320x180:rate=25:duration=1 '
                    .escapeshellarg($movie = $this->file('card/DCIM/100/T0002.MP4', '')));
        touch($movie, strtotime('2026-05-02 19:33:00'));
        $this->takeIn('Regatta');
        $this->judge(['rotate' => 'right']);
        self::assertSame([6, 1, null], $this->orientations());
        self::assertSame('rotation of 2 frames', $this->shoot('undo'));
        $this->judge(['frames' => [3], 'rotate' => 'right']);
        self::assertSame('rotation of 2 frames', $this->shoot('undo'), 'a movie cannot be rotated');
    }

    public function testWhatAnEditorRotatesIsShownSo(): void
    {
        $this->marked('DCIM/100/T0000.JPG', 1);
        $this->takeIn('Regatta');
        $this->judge(['frames' => [1], 'stars' => 3]); // the file is one that we wrote into
        $this->follow();
        self::assertSame('top left', $this->drawn(PictureSize::Strip));
        shell_exec('exiftool -q -overwrite_original -IFD0:Orientation#=6 -XMP-tiff:Orientation#=6 '
            .escapeshellarg($this->folder.'/shelf/'.$this->tree('shelf')[0]));
        $this->get(OutsideChanges::class)->look(1);
        $this->follow();
        self::assertSame(['6', '6'], $this->said());
        self::assertSame('top right', $this->drawn(PictureSize::Strip));
    }

    public function testAtFullSizeTheStoredPictureIsSentByteForByteAndSaysHowItIsShown(): void
    {
        $this->marked('DCIM/100/T0000.JPG', 6);
        $this->takeIn('Regatta');
        self::assertSame(['6', $this->stored()], $this->whole());
        $this->judge(['frames' => [1], 'rotate' => 'right']);
        self::assertSame(['3', $this->stored()], $this->whole(), 'before its file says so');
        $this->follow();
        unlink(Kernel::home().$this->address(PictureSize::Whole));
        self::assertSame(['3', $this->stored()], $this->whole(), 'and after');
    }

    /** The same corners as in the table of Exif 2.32, 4.6.4. */
    public function testThePointOfFocusTurnsWithTheFrame(): void
    {
        $this->marked('DCIM/100/T0000.JPG', 6);
        $this->takeIn('Regatta');
        $this->database()->executeStatement(
            "UPDATE filed_frame SET facts = jsonb_set(facts, '{focus}', '[0.2, 0.1]')",
        );
        $focus = function (): mixed {
            $answer = json_decode((string) $this->request('GET', '/api/shoots/1/frames')->getContent(), true);
            $frames = \is_array($answer) && \is_array($answer['frames']) ? $answer['frames'] : [];

            return array_column(array_column($frames, 'facts'), 'focus')[0] ?? null;
        };
        self::assertSame([0.9, 0.2], $focus());
        $this->judge(['frames' => [1], 'rotate' => 'right']);
        self::assertSame([0.8, 0.9], $focus());
    }

    public function testWhatIsSentAtFullSizeIsNotHeldInMemory(): void
    {
        $this->marked('DCIM/100/T0000.JPG', 1);
        $file = fopen($this->folder.'/card/DCIM/100/T0000.JPG', 'r+');
        self::assertIsResource($file);
        ftruncate($file, 150_000_000); // zeros behind the picture, as in a file with a movie behind it
        fclose($file);
        $this->readCard();
        $key = $this->database()->fetchOne('SELECT picture FROM card_frame');
        self::assertIsString($key);
        $path = self::addressOf(PictureSize::Whole, $key);
        gc_collect_cycles();
        memory_reset_peak_usage();
        $before = memory_get_usage();
        self::assertSame(200, $this->request('GET', $path)->getStatusCode());
        self::assertLessThan(20_000_000, memory_get_peak_usage() - $before);
        self::assertGreaterThan(149_000_000, filesize(Kernel::home().$path));
        unlink(Kernel::home().$path);
    }

    /** @return array{string, string} what exiftool finds beside the picture that is sent at full size, and that */
    private function whole(): array
    {
        $path = $this->address(PictureSize::Whole);
        self::assertSame(200, $this->request('GET', $path)->getStatusCode());
        $said = (string) shell_exec('exiftool -n -s3 -Orientation -DateTimeOriginal '
            .escapeshellarg(Kernel::home().$path));
        $sent = (string) file_get_contents(Kernel::home().$path);

        return [trim($said), substr($sent, (int) strpos($sent, "\xFF\xDA"))];
    }

    private function address(PictureSize $size): string
    {
        $frames = $this->pass('frames');
        $key = \is_array($frames[0]) && \is_string($frames[0]['picture']) ? $frames[0]['picture'] : '';

        return self::addressOf($size, $key);
    }

    private static function addressOf(PictureSize $size, string $key): string
    {
        return \sprintf('/pictures/%d/%s/%s.jpg', $size->value, substr($key, 0, 2), substr($key, 2));
    }

    /** A picture with a white mark in the corner that is at the top left as it is stored. */
    private function marked(string $path, int $orientation, string $time = '2026:05:02 19:31:40'): void
    {
        $image = imagecreatetruecolor(48, 32);
        self::assertInstanceOf(\GdImage::class, $image);
        imagefilledrectangle($image, 0, 0, 23, 15, 0xFFFFFF);
        $file = $this->file('card/'.$path, '');
        imagejpeg($image, $file, 95);
        shell_exec("exiftool -q -overwrite_original -Orientation#=$orientation -DateTimeOriginal='$time' "
            .escapeshellarg($file));
    }

    /** @return string in which corner the first frame's mark is shown */
    private function drawn(PictureSize $size): string
    {
        $path = $this->address($size);
        $response = $this->request('GET', $path);
        self::assertSame('/drawn'.$path, $response->headers->get('X-Accel-Redirect'));
        $image = imagecreatefromjpeg(Kernel::home().$path);
        self::assertInstanceOf(\GdImage::class, $image);
        [$right, $bottom] = [imagesx($image) - 5, imagesy($image) - 5];
        foreach ([[4, 4], [$right, 4], [$right, $bottom], [4, $bottom]] as $n => [$x, $y]) {
            if ((imagecolorat($image, $x, $y) & 0xFF) > 128) {
                return self::CORNERS[$n];
            }
        }
        self::fail('The mark is nowhere.');
    }

    /** @return list<string> by Exif and by XMP, the same in both places */
    private function said(): array
    {
        $said = [];
        foreach (['shelf', 'twin'] as $place) {
            $said[$place] = explode("\n", trim((string) shell_exec(
                'exiftool -n -s3 -IFD0:Orientation -XMP-tiff:Orientation '
                    .escapeshellarg($this->folder.'/'.$place.'/'.$this->tree($place)[0]),
            )));
        }
        self::assertSame($said['shelf'], $said['twin']);

        return $said['shelf'];
    }

    /** @return string the picture of the first file as it is stored, from the first scan on */
    private function stored(): string
    {
        $bytes = (string) file_get_contents($this->folder.'/shelf/'.$this->tree('shelf')[0]);

        return substr($bytes, (int) strpos($bytes, "\xFF\xDA"));
    }

    /** @return list<mixed> of the frames of the shoot */
    private function orientations(): array
    {
        $answer = json_decode((string) $this->request('GET', '/api/shoots/1/frames')->getContent(), true);
        $frames = \is_array($answer) && \is_array($answer['frames']) ? $answer['frames'] : [];

        return array_column(array_column($frames, 'facts'), 'orientation');
    }

    private function shoot(string $member): mixed
    {
        $answer = json_decode((string) $this->request('GET', '/api/shoots/1')->getContent(), true);

        return \is_array($answer) ? $answer[$member] : null;
    }
}
