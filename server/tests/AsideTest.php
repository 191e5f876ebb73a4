<?php

declare(strict_types=1);

namespace Velvet\Server\Tests;

use Velvet\Core\Filed\Clearance;
use Velvet\Core\Filed\Verdict;
use Velvet\Core\Tests\Capture\Samples;
use Velvet\Server\Store\AsideFrames;
use Velvet\Server\Store\Custody;
use Velvet\Server\Store\Shoot;
use Velvet\Server\Work\Aside\FileMoves;
use Velvet\Server\Work\Cards\CardClearance;
use Velvet\Server\Work\Intakes\IntakeRun;
use Velvet\Server\Work\Intakes\Intakes;
use Velvet\Server\Work\Intakes\OnFailure;
use Velvet\Server\Work\Ledger\LedgerCheck;
use Velvet\Server\Work\Metadata\ShootMetadata;
use Velvet\Server\Work\Metadata\WordsChange;
use Velvet\Server\Work\Sheets\SheetEdits;
use Velvet\Server\Work\Sheets\Sheets;

/** Struck frames are set aside in every place, brought back, thrown away and deleted. */
final class AsideTest extends FirstLookTestCase
{
    private const SHOOT = '2026/2026-05-02 Regatta';
    /** Without its ending. */
    private const FIRST = '2026-05-02_regatta_0001';
    private const SECOND = '2026-05-02_regatta_0002.jpg';
    private const ASIDE = '2026/2026-05-02 Regatta, set aside';

    public function testStruckFramesGoBesideTheShootInEveryPlaceAndComeBackWithAllThatIsSaidOfThem(): void
    {
        [$first, $second] = $this->filed(3);
        $this->judge(['frames' => [$first], 'verdict' => 'struck', 'stars' => 2]);
        $this->judge(['frames' => [$second], 'verdict' => 'kept']);
        $this->follow();
        $before = $this->contents();

        $answer = $this->act('set_aside');
        self::assertSame([1, 1], [$answer['frames'], $answer['files']]);
        self::assertSame($before, $this->contents(), 'the request only sets it down');
        $this->move();
        $moved = $this->contents();
        self::assertSame(array_values($before), array_values($moved), 'no byte is another one');
        foreach (['shelf', 'twin'] as $place) {
            self::assertArrayHasKey($place.'/'.self::ASIDE.'/'.self::FIRST.'.jpg', $moved);
            self::assertArrayNotHasKey($place.'/'.self::SHOOT.'/'.self::FIRST.'.jpg', $moved);
            self::assertArrayHasKey($place.'/'.self::SHOOT.'/'.self::SECOND, $moved);
        }
        self::assertSame([2, 1, 1, 0], $this->shoot('frames', 'open', 'aside', 'struck'));
        self::assertCount(2, $this->pass('frames'), 'it has left the pass');

        $this->act('bring_back');
        $this->move();
        self::assertSame($before, $this->contents());
        self::assertSame([3, 1, 0, 1], $this->shoot('frames', 'open', 'aside', 'struck'));
        $frames = $this->pass('frames');
        self::assertIsArray($frames[0]);
        self::assertSame(['struck', 2], [$frames[0]['verdict'], $frames[0]['stars']]);
        foreach (['shelf', 'twin'] as $place) {
            self::assertDirectoryDoesNotExist($this->folder.'/'.$place.'/'.self::ASIDE);
        }
        self::assertSame(
            ['file_set_aside', 'file_brought_back'],
            array_values(array_intersect(
                array_column($this->get(Custody::class)->ofFrame($first), 'event'),
                ['file_set_aside', 'file_brought_back'],
            )),
        );
    }

    public function testSidecarsGoAlongOursAndThoseOfOtherPrograms(): void
    {
        $this->file('card/DCIM/100/T0001.TRW', Samples::rawWithoutPreview());
        $this->takeIn('Regatta');
        $this->judge(['frames' => [1], 'verdict' => 'struck', 'stars' => 1]);
        $this->follow();
        foreach (['shelf', 'twin'] as $place) {
            file_put_contents($this->folder.'/'.$place.'/'.self::SHOOT.'/'.self::FIRST.'.trw.xmp', 'an editor\'s own');
            file_put_contents($this->folder.'/'.$place.'/'.self::SHOOT.'/'.self::FIRST.'.xmp.bak', 'somebody\'s');
        }
        $before = $this->contents();
        $answer = $this->act('set_aside');
        self::assertSame(2, $answer['files'], 'the raw file and its sidecar');
        $this->move();
        self::assertSame(
            [self::FIRST.'.trw', self::FIRST.'.trw.xmp', self::FIRST.'.xmp'],
            self::names($this->folder.'/twin/'.self::ASIDE),
        );
        self::assertSame([self::FIRST.'.xmp.bak'], self::names($this->folder.'/twin/'.self::SHOOT));
        $this->judge(['frames' => [1], 'stars' => 4]);
        $this->follow();
        // read by exiftool
        self::assertSame('4', trim((string) shell_exec(
            'exiftool -s3 -XMP-xmp:Rating '.escapeshellarg($this->folder.'/twin/'.self::ASIDE.'/'.self::FIRST.'.xmp'),
        )), 'what is said of it is written where it lies');
        $this->get(ShootMetadata::class)->undo(1);
        $this->follow();
        $this->act('bring_back');
        $this->move();
        self::assertSame(array_keys($before), array_keys($this->contents()));
    }

    public function testACardStaysClearedWhoseFramesAreSetAside(): void
    {
        $this->filed(2);
        $this->get(ShootMetadata::class)->change(1, [1], new WordsChange(verdict: Verdict::Struck));
        $this->act('set_aside');
        $this->move();
        self::assertSame(4, $this->get(LedgerCheck::class)->of(null, static function (): void {
        })->good);
        $stamps = $this->database()->fetchFirstColumn('SELECT stamp FROM filed_copy ORDER BY file_id, place_id');
        $this->get(LedgerCheck::class)->of(null, static function (): void {
        });
        self::assertSame(
            $stamps,
            $this->database()->fetchFirstColumn('SELECT stamp FROM filed_copy ORDER BY file_id, place_id'),
            'the moved copies need not be read again to be known as the verified ones',
        );
        self::assertSame(2, $this->clearance()->inTwoPlaces);
    }

    public function testACardThatIsLookedAtMeanwhileFindsNoCopyMissing(): void
    {
        $this->filed(1);
        $this->judge(['frames' => [1], 'verdict' => 'struck']);
        $this->act('set_aside');
        // as far as a worker comes that is killed
        mkdir($this->folder.'/shelf/'.self::ASIDE);
        rename(
            $this->folder.'/shelf/'.self::SHOOT.'/'.self::FIRST.'.jpg',
            $this->folder.'/shelf/'.self::ASIDE.'/'.self::FIRST.'.jpg',
        );
        self::assertLessThan(2, $this->clearance()->inTwoPlaces);
        $this->move();
        self::assertSame(2, \count($this->database()->fetchFirstColumn(
            "SELECT 1 FROM filed_copy WHERE state = 'whole'",
        )));
        self::assertSame(1, $this->clearance()->inTwoPlaces);
    }

    public function testANameThatIsTakenBesideTheShootIsNeverTakenAway(): void
    {
        $this->filed(2);
        $this->judge(['frames' => [1, 2], 'verdict' => 'struck']);
        mkdir($this->folder.'/twin/'.self::ASIDE);
        $mine = $this->folder.'/twin/'.self::ASIDE.'/'.self::FIRST.'.jpg';
        file_put_contents($mine, 'somebody\'s own');
        $this->act('set_aside');
        $this->move();
        self::assertSame('somebody\'s own', file_get_contents($mine));
        self::assertSame([self::FIRST.' 2.jpg', self::SECOND], self::names($this->folder.'/shelf/'.self::ASIDE));
        $this->act('bring_back');
        $this->move();
        self::assertSame([self::FIRST.'.jpg', self::SECOND], self::names($this->folder.'/shelf/'.self::SHOOT));
        self::assertSame('somebody\'s own', file_get_contents($mine));
    }

    public function testANameThatIsTakenMeanwhileIsSaidAndTheRestGoesOn(): void
    {
        $this->filed(2);
        $this->judge(['frames' => [1, 2], 'verdict' => 'struck']);
        $this->act('set_aside');
        mkdir($this->folder.'/twin/'.self::ASIDE);
        $mine = $this->folder.'/twin/'.self::ASIDE.'/'.self::FIRST.'.jpg';
        file_put_contents($mine, 'somebody\'s own');
        $this->move();
        self::assertSame('somebody\'s own', file_get_contents($mine));
        self::assertFileExists($this->folder.'/twin/'.self::SHOOT.'/'.self::FIRST.'.jpg');
        $notes = $this->aside()['notes'];
        self::assertIsArray($notes);
        self::assertStringContainsString('is there already as another file', self::text($notes[0] ?? null));
        rename($mine, $mine.'.old');
        $this->move();
        self::assertSame([0, []], [$this->aside()['moving'], $this->aside()['notes']]);
        self::assertSame(
            [self::FIRST.'.jpg', self::FIRST.'.jpg.old', self::SECOND],
            self::names($this->folder.'/twin/'.self::ASIDE),
        );
    }

    public function testWithAPlaceThatIsNotConnectedNothingIsMoved(): void
    {
        $this->filed(1);
        $this->judge(['frames' => [1], 'verdict' => 'struck']);
        rename($this->folder.'/twin', $this->folder.'/away');
        $response = $this->request('POST', '/api/shoots/1/aside', ['do' => 'set_aside']);
        self::assertSame(409, $response->getStatusCode());
        self::assertStringContainsString('is not connected', (string) $response->getContent());
        self::assertSame([1, 0], $this->shoot('frames', 'aside'));
        rename($this->folder.'/away', $this->folder.'/twin');

        $this->act('set_aside');
        rename($this->folder.'/twin', $this->folder.'/away');
        $this->move();
        self::assertSame([self::FIRST.'.jpg'], self::names($this->folder.'/shelf/'.self::SHOOT), 'both places or none');
        self::assertSame(1, $this->aside()['moving']);
        rename($this->folder.'/away', $this->folder.'/twin');
        $this->move();
        self::assertSame([self::FIRST.'.jpg'], self::names($this->folder.'/twin/'.self::ASIDE));
        self::assertSame([0, []], [$this->aside()['moving'], $this->aside()['notes']]);
    }

    public function testThrownAwayItLiesInADatedTrashUntilItIsDeletedByASecondWordThatCounts(): void
    {
        $this->filed(2);
        $this->judge(['frames' => [1], 'verdict' => 'struck']);
        $this->act('set_aside');
        $this->move();
        $this->act('throw_away');
        $this->move();
        $trash = 'Trash '.date('Y-m-d').'/'.self::ASIDE;
        foreach (['shelf', 'twin'] as $place) {
            self::assertSame([self::FIRST.'.jpg'], self::names($this->folder.'/'.$place.'/'.$trash));
            self::assertDirectoryDoesNotExist($this->folder.'/'.$place.'/'.self::ASIDE);
        }
        self::assertSame(
            422,
            $this->request('POST', '/api/shoots/1/aside', ['do' => 'delete'])->getStatusCode(),
            'without the count nothing is deleted',
        );
        self::assertSame(
            409,
            $this->request('POST', '/api/shoots/1/aside', ['do' => 'delete', 'files' => 2])->getStatusCode(),
        );
        file_put_contents($this->folder.'/twin/'.$trash.'/'.self::FIRST.'.jpg', 'worked on there', \FILE_APPEND);
        $this->act('delete', 1);
        self::assertSame(1, $this->clearance()->inTwoPlaces, 'what is about to be deleted counts no more');
        $this->move();
        self::assertDirectoryDoesNotExist(\dirname($this->folder.'/shelf/'.$trash));
        self::assertFileExists(
            $this->folder.'/twin/'.$trash.'/'.self::FIRST.'.jpg',
            'what is not the file of the ledger any more stays',
        );
        self::assertSame([1, 0], $this->shoot('frames', 'aside'));
        self::assertSame(409, $this->request('POST', '/api/shoots/1/aside', ['do' => 'bring_back'])->getStatusCode());
        self::assertSame(1, $this->clearance()->inTwoPlaces, 'no copy is left of the other');
        $again = $this->readCard();
        self::assertSame(['filed', 'new'], $this->database()->fetchFirstColumn(
            'SELECT state FROM card_frame WHERE card_id = :card ORDER BY state',
            ['card' => $again->id()],
        ), 'a card that has it offers it again');
    }

    public function testForgottenFramesLieWhereTheyLieAndAreLookedAfterNoMore(): void
    {
        $this->filed(2);
        $this->judge(['frames' => [1], 'verdict' => 'struck']);
        $this->act('set_aside');
        $this->move();
        $before = $this->contents();
        $this->act('forget', 1);
        $this->move();
        self::assertSame($before, $this->contents());
        self::assertSame([1, 0], $this->shoot('frames', 'aside'));
        unlink($this->folder.'/twin/'.self::ASIDE.'/'.self::FIRST.'.jpg');
        self::assertSame([], $this->get(LedgerCheck::class)->of(null, static function (): void {
        })->missing);
    }

    public function testTheLedgersPageTellsWhatWasDone(): void
    {
        $this->filed(2);
        $this->judge(['frames' => [1], 'verdict' => 'struck']);
        $this->act('set_aside');
        $this->move();
        $this->act('bring_back');
        $this->move();
        $this->get(LedgerCheck::class)->of(null, static function (): void {
        });
        $acts = self::members((string) $this->request('GET', '/api/ledger')->getContent())['acts'];
        self::assertIsArray($acts);
        self::assertSame(['checked', 'brought_back', 'set_aside'], array_column($acts, 'event'));
        self::assertSame([4, 1, 1], array_column($acts, 'files'), 'two copies of two files were read');
        self::assertSame([null, ['id' => 1, 'name' => 'Regatta'], ['id' => 1, 'name' => 'Regatta']], array_column(
            $acts,
            'shoot',
        ));
    }

    public function testAShootOfStruckFramesAloneStaysThere(): void
    {
        $this->filed(1);
        $this->judge(['frames' => [1], 'verdict' => 'struck']);
        $this->act('set_aside');
        $this->move();
        self::assertSame([0, 1], $this->shoot('frames', 'aside'));
        self::assertSame(409, $this->request('POST', '/api/shoots/1/aside', ['do' => 'set_aside'])->getStatusCode());
        self::assertSame(0, $this->get(AsideFrames::class)->left());
    }

    public function testItsNameIsNotGivenToAnotherFrameMeanwhile(): void
    {
        $this->filed(1);
        $this->judge(['frames' => [1], 'verdict' => 'struck']);
        $this->act('set_aside');
        $this->move();
        $this->file('other/DCIM/100/T0000.JPG', Jpeg::of('another', '2026:05:02 21:00:00'));
        $intake = $this->get(Sheets::class)->open([$this->readCard('other')]);
        $this->get(SheetEdits::class)->fileInto($intake, 1, $this->entities()->find(Shoot::class, 1));
        $this->get(Intakes::class)->settle($intake, false);
        $this->get(IntakeRun::class)->run($intake->id(), OnFailure::KeepGoing);
        self::assertNotContains(self::FIRST.'.jpg', self::names($this->folder.'/shelf/'.self::SHOOT));
        $this->act('bring_back');
        $this->move();
        self::assertContains(self::FIRST.'.jpg', self::names($this->folder.'/shelf/'.self::SHOOT));
        self::assertCount(2, $this->pass('frames'));
    }

    /** @return array<string, mixed> */
    private function act(string $do, ?int $files = null): array
    {
        $response = $this->request(
            'POST',
            '/api/shoots/1/aside',
            ['do' => $do] + (null === $files ? [] : ['files' => $files]),
        );
        self::assertSame(202, $response->getStatusCode(), (string) $response->getContent());

        return self::members((string) $response->getContent());
    }

    private function clearance(): Clearance
    {
        return $this->get(CardClearance::class)->of($this->readCard(), true);
    }

    private function move(): void
    {
        $this->get(FileMoves::class)->all();
    }

    /** @return array<string, mixed> */
    private function aside(): array
    {
        return self::members((string) $this->request('GET', '/api/shoots/1/aside')->getContent());
    }

    /** @return list<mixed> */
    private function shoot(string ...$members): array
    {
        $shoot = self::members((string) $this->request('GET', '/api/shoots/1')->getContent());

        return array_map(static fn (string $member): mixed => $shoot[$member] ?? null, array_values($members));
    }

    /** @return array<string, mixed> */
    private static function members(string $json): array
    {
        $read = json_decode($json, true);
        $members = [];
        foreach (\is_array($read) ? $read : [] as $name => $value) {
            $members[(string) $name] = $value;
        }

        return $members;
    }

    private static function text(mixed $value): string
    {
        return \is_string($value) ? $value : '';
    }

    /** @return array<string, string> digests of all files of both places, by their paths */
    private function contents(): array
    {
        $contents = [];
        foreach (['shelf', 'twin'] as $place) {
            foreach ($this->tree($place) as $path) {
                $contents[$place.'/'.$path] = hash_file('xxh128', $this->folder.'/'.$place.'/'.$path);
            }
        }
        ksort($contents);

        return array_map(strval(...), $contents);
    }

    /** @return list<string> */
    private static function names(string $folder): array
    {
        $names = @scandir($folder);

        return array_values(array_diff(false === $names ? [] : $names, ['.', '..']));
    }
}
