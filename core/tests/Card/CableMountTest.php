<?php

declare(strict_types=1);

namespace Velvet\Core\Tests\Card;

use PHPUnit\Framework\TestCase;
use Velvet\Core\Card\CableMount;
use Velvet\Core\Tests\TemporaryFolder;

/** Folders as gvfs makes them for cameras; their names are from memory. */
final class CableMountTest extends TestCase
{
    use TemporaryFolder;

    public function testACamerasStoragesAreLookedIntoAndAnyOtherFolderIsTakenAsItIs(): void
    {
        $camera = $this->folder.'/gphoto2:host=Tarn_Optical_Heron_5';
        $this->file(basename($camera).'/store_00010001/DCIM/100TARNO/T0001.JPG', 'x');
        $this->file(basename($camera).'/store_00020001/DCIM/100TARNO/T0001.JPG', 'x');
        $this->file('mtp:host=Phone/DCIM/T0001.JPG', 'x');
        $this->file('LANTERN/store_00010001/DCIM/T0001.JPG', 'x');
        self::assertSame(
            [$camera.'/store_00010001', $camera.'/store_00020001'],
            CableMount::storages($camera),
        );
        foreach (['mtp:host=Phone', 'LANTERN', 'not there'] as $itself) {
            self::assertSame([$this->folder.'/'.$itself], CableMount::storages($this->folder.'/'.$itself));
        }
    }

    public function testAMountedCameraGoesByItsName(): void
    {
        self::assertSame('Tarn Optical Heron 5', CableMount::label('/gvfs/gphoto2:host=Tarn_Optical_Heron_5'));
        self::assertSame('Heron 5', CableMount::label('/run/user/1/gvfs/mtp:host=Heron%205/store_00010001'));
        self::assertSame('camera on a cable', CableMount::label('/gvfs/gphoto2:host=%5Busb%3A001%2C004%5D'));
        self::assertNull(CableMount::label('/media/ines/LANTERN'));
    }
}
