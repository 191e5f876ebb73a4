<?php

declare(strict_types=1);

namespace Velvet\Core\Tests\Capture;

use PHPUnit\Framework\TestCase;
use Velvet\Core\Bytes\FileBytes;
use Velvet\Core\Capture\Capture;
use Velvet\Core\Capture\CaptureFacts;
use Velvet\Core\Capture\CaptureReader;
use Velvet\Core\Capture\CrwReader;
use Velvet\Core\Capture\IsoMediaReader;
use Velvet\Core\Capture\JpegReader;
use Velvet\Core\Capture\JxlReader;
use Velvet\Core\Capture\MovieReader;
use Velvet\Core\Capture\MrwReader;
use Velvet\Core\Capture\PngReader;
use Velvet\Core\Capture\RafReader;
use Velvet\Core\Capture\RiffReader;
use Velvet\Core\Capture\TiffReader;
use Velvet\Core\Capture\X3fReader;
use Velvet\Core\Capture\XmpReader;
use Velvet\Core\Tests\TemporaryFolder;

abstract class ReaderTestCase extends TestCase
{
    use TemporaryFolder;

    /** @param string $format an extension of {@see Samples} */
    protected static function reader(string $format): CaptureReader
    {
        return match ($format) {
            'jpg', 'thm' => new JpegReader(),
            'png' => new PngReader(),
            'webp', 'avi', 'wav' => new RiffReader(),
            'jxl' => new JxlReader(),
            'avif', 'cr3' => new IsoMediaReader(),
            'raf' => new RafReader(),
            'mrw' => new MrwReader(),
            'crw' => new CrwReader(),
            'x3f' => new X3fReader(),
            'mov' => new MovieReader(new \DateTimeZone('UTC')),
            'xmp' => new XmpReader(),
            default => new TiffReader(),
        };
    }

    protected function read(string $format, string $bytes): CaptureFacts
    {
        return self::reader($format)->read(FileBytes::open($this->file('sample', $bytes)), 'sample');
    }

    protected function capture(string $zone = 'UTC'): Capture
    {
        return Capture::inZone(new \DateTimeZone($zone));
    }
}
