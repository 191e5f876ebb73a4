<?php

declare(strict_types=1);

namespace Velvet\Server\Tests;

use Symfony\Bundle\FrameworkBundle\Console\Application;
use Symfony\Component\Console\Tester\CommandTester;
use Velvet\Server\Work\Metadata\OutsideChanges;

/** Who judged, and what others say beside it. */
final class MarksTest extends FirstLookTestCase
{
    public function testTheLatestWordIsTheVerdictAndThatOfSomebodyElseStaysBeside(): void
    {
        [$first, $second] = $this->filed(2);
        $this->judge(['frames' => [$first, $second], 'verdict' => 'kept', 'stars' => 4, 'by' => 'Ines']);
        $this->areNow(['kept', 4, 'Ines', []], ['kept', 4, 'Ines', []]);

        $this->judge(['frames' => [$first], 'verdict' => 'struck', 'by' => 'The editor']);
        $kept = ['by' => 'Ines', 'verdict' => 'kept', 'stars' => 4];
        $this->areNow(['struck', 4, 'The editor', [$kept]], ['kept', 4, 'Ines', []]);

        // again by the first: now the other one's word stands beside, and her own earlier one does not
        $this->judge(['frames' => [$first], 'stars' => 1, 'by' => 'Ines']);
        $struck = ['by' => 'The editor', 'verdict' => 'struck', 'stars' => 4];
        $this->areNow(['struck', 1, 'Ines', [$struck]], ['kept', 4, 'Ines', []]);

        // a verdict without a name takes the place of both
        $this->judge(['frames' => [$first], 'verdict' => 'open', 'stars' => 0]);
        $one = ['by' => 'Ines', 'verdict' => 'struck', 'stars' => 1];
        $this->areNow(['open', 0, null, [$one, $struck]], ['kept', 4, 'Ines', []]);
    }

    public function testWhoJudgedIsUndoneWithTheVerdict(): void
    {
        [$frame] = $this->filed(1);
        $this->judge(['frames' => [$frame], 'verdict' => 'kept', 'by' => 'Ines']);
        $this->judge(['frames' => [$frame], 'verdict' => 'kept', 'by' => 'The editor']);
        $this->request('POST', '/api/shoots/1/undo');
        $this->areNow(['kept', null, 'Ines', []]);
        $this->request('POST', '/api/shoots/1/redo');
        $this->areNow(['kept', null, 'The editor', [['by' => 'Ines', 'verdict' => 'kept', 'stars' => null]]]);
        $this->request('POST', '/api/shoots/1/undo');
        $this->request('POST', '/api/shoots/1/undo');
        $this->areNow(['open', null, null, []]);
    }

    public function testOthersAreToldOfBoth(): void
    {
        [$frame] = $this->filed(1);
        $this->judge(['frames' => [$frame], 'verdict' => 'kept', 'by' => 'Ines']);
        $this->judge(['frames' => [$frame], 'verdict' => 'struck', 'by' => 'The editor']);
        $told = $this->database()->fetchOne("SELECT payload FROM happening WHERE topic = 'judged' ORDER BY id DESC");
        self::assertIsString($told);
        self::assertJsonStringEqualsJsonString((string) json_encode([[
            'id' => $frame, 'verdict' => 'struck', 'stars' => null, 'by' => 'The editor', 'tabs' => [],
            'beside' => [['by' => 'Ines', 'verdict' => 'kept', 'stars' => null]],
        ]]), (string) json_encode(((array) json_decode($told, true))['frames'] ?? null));
    }

    public function testAnImportInANameStandsBesideAndIsTakenOver(): void
    {
        $frames = $this->filed(3);
        $this->judge(['frames' => $frames, 'verdict' => 'kept', 'stars' => 2, 'by' => 'Ines']);
        [$one, $two, $three] = $this->tree('shelf');
        file_put_contents($this->folder.'/theirs.csv', <<<CSV
            path,verdict,stars
            {$one},struck,
            {$two},struck,
            {$three},kept,5
            CSV);
        $theirs = ['--by' => 'The editor'];
        self::assertSame('3 frames judged.', $this->verdict('import', [$this->folder.'/theirs.csv'], $theirs));
        self::assertSame([
            ['kept', 2, 'Ines', [['by' => 'The editor', 'verdict' => 'struck', 'stars' => null]]],
            ['kept', 2, 'Ines', [['by' => 'The editor', 'verdict' => 'struck', 'stars' => null]]],
            ['kept', 2, 'Ines', [['by' => 'The editor', 'verdict' => 'kept', 'stars' => 5]]],
        ], $this->words());

        $shoot = ['--shoot' => 'Regatta'];
        self::assertSame('0 frames judged.', $this->verdict('take', ['Nobody', basename($one)], $shoot));
        $of = ['The editor', basename($one), basename($three)];
        self::assertSame('2 frames judged.', $this->verdict('take', $of, $shoot));
        $mine = ['by' => 'Ines', 'verdict' => 'kept', 'stars' => 2];
        $words = $this->words();
        self::assertSame(['struck', 2, 'The editor', [$mine]], $words[0], 'without stars of their own, those stay');
        self::assertSame(['kept', 2, 'Ines'], \array_slice($words[1], 0, 3));
        self::assertSame(['kept', 5, 'The editor', [$mine]], $words[2]);

        $csv = $this->verdict('export', [], ['--format' => 'csv']);
        self::assertStringContainsString("{$one},struck,2,,The editor", $csv);
        self::assertStringContainsString("{$two},kept,2,,Ines", $csv);
    }

    /** Another program says stars, or a word that is no judgement. */
    public function testAnEditorsStarsAreTheLatestWordAndItsOtherWordsAreNone(): void
    {
        $frames = $this->filed(2);
        $this->judge(['frames' => $frames, 'verdict' => 'kept', 'stars' => 4, 'by' => 'Ines']);
        $this->follow();
        [$one, $two] = $this->tree('shelf');
        foreach ([[$one, '-XMP-xmp:Rating=2'], [$two, '-XMP-photoshop:Headline=Theirs']] as [$path, $says]) {
            exec('exiftool -q -overwrite_original '.$says.' '.escapeshellarg($this->folder.'/shelf/'.$path));
        }
        $outside = $this->get(OutsideChanges::class);
        $outside->look(1);
        self::assertCount(2, $outside->in(1));
        foreach ($outside->in(1) as ['file' => $file]) {
            $outside->takeTheirs($file);
        }
        $this->areNow(
            ['kept', 2, null, [['by' => 'Ines', 'verdict' => 'kept', 'stars' => 4]]],
            ['kept', 4, 'Ines', []],
        );
    }

    public function testANameIsAWordOfUsualLength(): void
    {
        [$frame] = $this->filed(1);
        foreach (['', str_repeat('x', 61), 5] as $name) {
            $judgement = ['frames' => [$frame], 'verdict' => 'kept', 'by' => $name];
            self::assertSame(422, $this->judge($judgement)->getStatusCode());
        }
        $this->areNow(['open', null, null, []]);
        $this->verdict('keep', [basename($this->tree('shelf')[0])], ['--shoot' => 'Regatta', '--by' => '  ']);
        $this->areNow(['kept', null, null, []]);
    }

    /** @param list<mixed> ...$words as {@see self::words()} has them */
    private function areNow(array ...$words): void
    {
        self::assertSame($words, $this->words());
    }

    /** @return list<array{mixed, mixed, mixed, mixed}> verdict, stars, who judged, and what stands beside, by frame */
    private function words(): array
    {
        return array_map(
            static fn (mixed $frame): array => \is_array($frame)
                ? [$frame['verdict'], $frame['stars'], $frame['by'], $frame['beside']]
                : [null, null, null, null],
            array_values($this->pass('frames')),
        );
    }

    /**
     * @param list<string>          $of
     * @param array<string, string> $options
     */
    private function verdict(string $do, array $of, array $options): string
    {
        self::assertNotNull(self::$kernel);
        $tester = new CommandTester((new Application(self::$kernel))->find('velvet:verdict'));
        $tester->execute(['do' => $do, 'of' => $of] + $options);

        return trim($tester->getDisplay());
    }
}
