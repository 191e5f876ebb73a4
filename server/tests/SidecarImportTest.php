<?php

declare(strict_types=1);

namespace Velvet\Server\Tests;

use Symfony\Bundle\FrameworkBundle\Console\Application;
use Symfony\Component\Console\Tester\CommandTester;
use Velvet\Core\Filed\TabColour;
use Velvet\Core\Filed\TabWriting;
use Velvet\Server\Work\Intakes\IntakeRun;
use Velvet\Server\Work\Intakes\Intakes;
use Velvet\Server\Work\Intakes\OnFailure;
use Velvet\Server\Work\Metadata\TabEdits;
use Velvet\Server\Work\Sheets\SheetEdits;
use Velvet\Server\Work\Sheets\Sheets;

/** Verdicts of other programs' sidecars; these are written by exiftool. */
final class SidecarImportTest extends FirstLookTestCase
{
    public function testSidecarsBesideTheFilesSayVerdictsStarsAndTabs(): void
    {
        $this->filed(3);
        $this->get(TabEdits::class)->add('Quay', TabColour::Slate, TabWriting::Label);
        [$one, $two, $three] = $this->tree('shelf');
        $this->sidecar('shelf/'.substr($one, 0, -4).'.xmp', '-XMP-xmp:Rating=-1');
        $this->sidecar('twin/'.$two.'.XMP', '-XMP-xmp:Rating=4', '-XMP-xmp:Label=quay');
        $this->sidecar('shelf/'.substr($three, 0, -4).'.xmp', '-XMP-dc:Title=nothing of that');
        $before = $this->tree('shelf');
        self::assertSame(
            [0, '2 frames judged.'],
            $this->verdict([\dirname($this->folder.'/shelf/'.$one), \dirname($this->folder.'/twin/'.$two)]),
        );
        self::assertSame([['struck', null, []], ['open', 4, [1]], ['open', null, []]], $this->judged());
        self::assertSame($before, $this->tree('shelf'));
    }

    public function testSidecarsElsewhereAreFoundByTheNamesThatFilesHadOnTheCard(): void
    {
        $this->filed(2);
        $sidecar = $this->sidecar('editor/t0001.xmp', '-XMP-xmp:Rating=2');
        self::assertSame(1, $this->verdict([$sidecar])[0], 'nothing says which shoot it belongs to');
        self::assertSame([['open', null, []], ['open', null, []]], $this->judged());
        self::assertSame([0, '1 frame judged.'], $this->verdict([$sidecar], ['--shoot' => 'Regatta']));
        self::assertSame([['open', null, []], ['open', 2, []]], $this->judged());
    }

    public function testOfTwoFramesThatHadOneNameNoneIsGuessed(): void
    {
        $this->filed(1);
        $this->file('other/DCIM/100/T0000.JPG', Jpeg::of('other', '2026:05:02 19:40:00'));
        $intake = $this->get(Sheets::class)->open([$this->readCard('other')]);
        $this->get(SheetEdits::class)->name($intake, 1, ['name' => 'Regatta']);
        $this->get(Intakes::class)->settle($intake, false);
        $this->get(IntakeRun::class)->run($intake->id(), OnFailure::KeepGoing);
        $sidecar = $this->sidecar('editor/T0000.xmp', '-XMP-xmp:Rating=2');
        [$status, $said] = $this->verdict([$sidecar], ['--shoot' => 'Regatta']);
        self::assertSame(1, $status);
        self::assertStringContainsString($sidecar.' is no file of a filed frame', $said);
    }

    public function testWhatIsNoSidecarIsNamedAndTheOthersAreTakenIn(): void
    {
        $this->filed(1);
        $this->sidecar('editor/T0000.xmp', '-XMP-xmp:Rating=3');
        $broken = $this->file('editor/deep/T0001.xmp', "\xFF\xD8 no packet");
        [$status, $said] = $this->verdict([$this->folder.'/editor'], ['--shoot' => 'Regatta']);
        self::assertSame(1, $status);
        self::assertStringContainsString($broken.' was not taken in: it is no XMP. Its frame stays as it is.', $said);
        self::assertStringContainsString('1 frame judged.', $said);
        self::assertSame([['open', 3, []]], $this->judged());
    }

    public function testInANameTheyStandBeside(): void
    {
        [$frame] = $this->filed(1);
        $this->judge(['frames' => [$frame], 'verdict' => 'kept', 'stars' => 1, 'by' => 'Ines']);
        $sidecar = $this->sidecar('editor/T0000.xmp', '-XMP-xmp:Rating=5');
        $this->verdict([$sidecar], ['--shoot' => 'Regatta', '--by' => 'The editor']);
        self::assertSame([['kept', 1, []]], $this->judged());
        self::assertSame(
            [['by' => 'The editor', 'verdict' => 'kept', 'stars' => 5]],
            array_column($this->pass('frames'), 'beside')[0],
        );
    }

    private function sidecar(string $path, string ...$says): string
    {
        $path = $this->folder.'/'.$path;
        is_dir(\dirname($path)) || mkdir(\dirname($path), recursive: true);
        $as = $this->folder.'/made.xmp'; // exiftool goes by the extension
        exec('exiftool -q '.implode(' ', array_map(escapeshellarg(...), $says)).' '.escapeshellarg($as), $out, $status);
        self::assertSame(0, $status, implode("\n", $out));
        rename($as, $path);

        return $path;
    }

    /** @return list<array{mixed, mixed, mixed}> verdict, stars and tabs of each frame */
    private function judged(): array
    {
        return array_map(
            static fn (mixed $frame): array => \is_array($frame)
                ? [$frame['verdict'], $frame['stars'], $frame['tabs']]
                : [null, null, null],
            array_values($this->pass('frames')),
        );
    }

    /**
     * @param list<string>          $of
     * @param array<string, string> $options
     *
     * @return array{int, string}
     */
    private function verdict(array $of, array $options = []): array
    {
        self::assertNotNull(self::$kernel);
        $tester = new CommandTester((new Application(self::$kernel))->find('velvet:verdict'));
        $status = $tester->execute(['do' => 'import', 'of' => $of] + $options);

        return [$status, trim($tester->getDisplay())];
    }
}
