<?php

declare(strict_types=1);

namespace Velvet\Server\Tests;

use Doctrine\DBAL\DriverManager;
use Symfony\Component\Clock\Test\ClockSensitiveTrait;
use Velvet\Server\Http\KeptPlans;
use Velvet\Server\Store\AskedFolders;
use Velvet\Server\Store\Intake;
use Velvet\Server\Work\Sheets\Sheets;

/** What is shown of a plan is kept, and never for a moment too long. */
final class KeptPlansTest extends ServerTestCase
{
    use ClockSensitiveTrait;

    private int $made = 0;

    public function testIsMadeOnceUntilAnythingIsWritten(): void
    {
        $intake = $this->planned();
        self::assertSame([1, 1], $this->twice($intake));
        $other = DriverManager::getConnection($this->database()->getParams());
        $other->beginTransaction();
        $other->executeStatement("INSERT INTO camera_name (camera, name) VALUES ('Tarn Optical Heron 5', 'Five')");
        self::assertSame(1, $this->shown($intake), 'nobody else sees it yet');
        $other->commit();
        self::assertSame([2, 2], $this->twice($intake));
        $other->close();
    }

    public function testIsMadeAnewWhenAFolderOnADriveHoldsOtherNames(): void
    {
        $intake = $this->planned();
        self::assertSame([1, 1], $this->twice($intake));
        $this->file('twin/2026/first.jpg', 'by hand');
        self::assertSame([2, 2], $this->twice($intake));
        rename($this->folder.'/twin/2026/first.jpg', $this->folder.'/twin/2026/second.jpg');
        self::assertSame([3, 3], $this->twice($intake));
        $this->file('twin/2027/first.jpg', 'nobody asked for that folder');
        self::assertSame(3, $this->shown($intake));
    }

    public function testEachSheetHasItsOwnAndEachDay(): void
    {
        $intake = $this->planned();
        $this->shown($intake);
        $this->file('other/DCIM/100/T0001.JPG', Jpeg::of('other', '2026:05:03 10:00:00'));
        $other = $this->get(Sheets::class)->open([$this->readCard('other')]);
        self::assertSame([2, 2, 3], [$this->shown($other), $this->shown($other), $this->shown($intake)]);
        self::mockTime('+1 day');
        self::assertSame([4, 4], $this->twice($intake));
    }

    /** As a page asks: somebody puts a file where the first frame was to go. */
    public function testThePageSeesWhatWasPutIntoTheFolder(): void
    {
        $intake = $this->planned();
        $sheet = '/api/sheets/'.$intake->id();
        $this->request('GET', $sheet);
        $this->request('GET', $sheet.'/entries/1/frames');
        $before = $this->target($sheet);
        self::assertSame($before, $this->target($sheet));
        $this->file('shelf/'.$before, 'by hand');
        self::assertNotSame($before, $this->target($sheet));
        self::assertStringContainsString(
            basename($this->target($sheet)),
            (string) $this->request('GET', $sheet)->getContent(),
        );
    }

    private function planned(): Intake
    {
        $this->shot('DCIM/100/T0001.JPG', '2026:05:02 19:31:40');

        return $this->sheet();
    }

    /** @return list<int> how often it was made so far, asked twice */
    private function twice(Intake $intake): array
    {
        return array_map($this->shown(...), [$intake, $intake]);
    }

    /** @return int how often it was made so far */
    private function shown(Intake $intake): int
    {
        return $this->get(KeptPlans::class)->of($intake, 'sheet', function (): array {
            $this->get(AskedFolders::class)->namesIn([$this->folder.'/shelf', $this->folder.'/twin'], '2026');

            return [++$this->made];
        })[0];
    }

    /** @return string where the first frame is to go */
    private function target(string $sheet): string
    {
        $frames = $this->request('GET', $sheet.'/entries/1/frames')->getContent();
        self::assertSame(1, preg_match('/"to":\["([^"]+)"/', str_replace('\/', '/', (string) $frames), $found));

        return $found[1];
    }
}
