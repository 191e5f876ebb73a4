<?php

declare(strict_types=1);

namespace Velvet\Server\Tests;

use Symfony\Component\HttpFoundation\Response;
use Velvet\Core\Shoot\DayBoundary;
use Velvet\Core\Shoot\DivideBy;
use Velvet\Core\Shoot\Division;
use Velvet\Core\Style\HouseStyle;
use Velvet\Core\Style\Kinds;
use Velvet\Core\Tests\Capture\Samples;
use Velvet\Server\Http\SheetView;
use Velvet\Server\Store\CameraNames;
use Velvet\Server\Store\Entry;
use Velvet\Server\Store\Intake;
use Velvet\Server\Store\SheetFrame;
use Velvet\Server\Store\SheetFrames;
use Velvet\Server\Store\Shoot;
use Velvet\Server\Store\Styles;
use Velvet\Server\Work\Intakes\IntakeRun;
use Velvet\Server\Work\Intakes\Intakes;
use Velvet\Server\Work\Intakes\OnFailure;
use Velvet\Server\Work\Sheets\SheetEdits;
use Velvet\Server\Work\Sheets\Sheets;
use Velvet\Server\Work\Sheets\Shelves;

/** What is done on a sheet by hand, and the house styles it follows. */
final class SheetEditsTest extends ServerTestCase
{
    public function testEditsCanAllBeUndoneAndDoneAgain(): void
    {
        $intake = $this->sixFrames();
        $edits = $this->get(SheetEdits::class);
        $states = [$this->state($intake)];
        $ids = $this->ids($intake);
        foreach ([
            static fn (Intake $now) => $edits->split($now, $ids[2]),
            static fn (Intake $now) => $edits->name($now, 2, ['name' => 'Quay']),
            static fn (Intake $now) => $edits->move($now, [$ids[0], $ids[5]], 2),
            static fn (Intake $now) => $edits->join($now, 2),
            static fn (Intake $now) => $edits->leaveOut($now, [$ids[1], $ids[4]], true),
            static fn (Intake $now) => $edits->move($now, [$ids[3]], null),
            static fn (Intake $now) => $edits->correct($now, 'Tarn Optical Heron 5', 3600),
            static fn (Intake $now) => $edits->take($now, Kinds::Raw, false),
            static fn (Intake $now) => $edits->divideBy(
                $now,
                new Division(DayBoundary::at('06:30'), 45, DivideBy::Pause),
            ),
        ] as $edit) {
            $edit($this->again($intake));
            $states[] = $this->state($intake);
        }
        self::assertSameSize($states, array_unique($states), 'every edit changed something');
        for ($n = \count($states) - 2; $n >= 0; --$n) {
            $edits->undo($this->again($intake));
            self::assertSame($states[$n], $this->state($intake), "undone to $n");
        }
        self::assertNull($edits->history($this->again($intake))['undo']);
        for ($n = 1; $n < \count($states); ++$n) {
            $edits->redo($this->again($intake));
            self::assertSame($states[$n], $this->state($intake), "done again to $n");
        }
        $edits->undo($this->again($intake));
        $edits->name($this->again($intake), 1, ['name' => 'Another way']);
        self::assertNull($edits->history($this->again($intake))['redo'], 'a new edit ends what could be done again');
    }

    public function testTypingOnIsOneStep(): void
    {
        $intake = $this->sixFrames();
        $edits = $this->get(SheetEdits::class);
        foreach (['Q', 'Qu', 'Quay'] as $typed) {
            $edits->name($this->again($intake), 1, ['name' => $typed]);
        }
        $edits->undo($this->again($intake));
        self::assertSame('', $this->again($intake)->entries[0]?->name);
    }

    public function testFramesAreGroupedForSelectingThemAtOneStroke(): void
    {
        $intake = $this->sixFrames();
        $ids = $this->ids($intake);
        $this->get(SheetEdits::class)->leaveOut($intake, [$ids[4]], true);
        $groups = [];
        foreach ($this->get(SheetView::class)->groups($this->again($intake), 1) as $group) {
            $groups[$group['by'].' '.$group['of']] = $group['positions'];
        }
        self::assertSame(
            ['state new' => [0, 1, 2, 3, 5], 'state left_out' => [4]],
            $groups,
            'a group of all frames is none',
        );
    }

    public function testWhatIsLeftOutIsNotCopiedAndIsRememberedForTheCard(): void
    {
        $intake = $this->sixFrames();
        $this->get(SheetEdits::class)->leaveOut($intake, \array_slice($this->ids($intake), 0, 2), true);
        $intake = $this->named($this->again($intake));
        $this->get(Intakes::class)->settle($intake, true);
        $this->get(IntakeRun::class)->run($intake->id(), OnFailure::KeepGoing);
        self::assertCount(4, $this->tree('shelf'));
        $next = $this->get(Sheets::class)->open([$this->readCard()]);
        $counts = array_count_values(
            array_map(static fn (SheetFrame $frame): string => $frame->frame->state->value, $this->frames($next)),
        );
        self::assertSame(['left_out' => 2, 'filed' => 4], $counts);
        [$entry] = (array) $this->get(SheetView::class)->of($next)['entries'];
        self::assertIsArray($entry);
        self::assertSame([['filed', [['first' => 2, 'count' => 4]]]], array_map(
            static fn (array $note): array => [$note['code'], $note['spans']],
            array_filter((array) $entry['notes'], is_array(...)),
        ));
    }

    public function testASplitMovesTheSmallerPartAlone(): void
    {
        $intake = $this->sixFrames();
        $edits = $this->get(SheetEdits::class);
        $edits->name($intake, 1, ['name' => 'Before noon']);
        $was = $this->again($intake)->entries[0]?->id();
        $edits->split($this->again($intake), $this->ids($intake)[1]);
        self::assertSame([['Before noon', 1], ['', 5]], $this->shape($intake));
        self::assertSame($was, $this->again($intake)->entries[1]?->id(), 'five of its frames stay where they are kept');
        $edits->join($this->again($intake), 2);
        self::assertSame([['Before noon', 6]], $this->shape($intake));
        self::assertSame($was, $this->again($intake)->entries[0]?->id());
    }

    public function testACardThatComesBackKeepsWhatWasDoneByHand(): void
    {
        $intake = $this->sixFrames();
        $edits = $this->get(SheetEdits::class);
        $edits->split($intake, $this->ids($intake)[2]);
        $edits->name($this->again($intake), 1, ['name' => 'Before noon']);
        $this->readCard();
        self::assertSame([['Before noon', 2], ['', 4]], $this->shape($intake));
        $this->shot('DCIM/100/T0000.JPG', '2026:05:02 09:00:30'); // between the first and the second
        $this->shot('DCIM/100/T0009.JPG', '2026:05:09 09:00:00');
        $this->readCard();
        self::assertSame([['Before noon', 3], ['', 4], ['', 1]], $this->shape($intake));
    }

    public function testACorrectedClockChangesOrderDayAndNames(): void
    {
        $this->shot('DCIM/100/T0001.JPG', '2026:05:02 23:30:00');
        $this->shot('DCIM/100/T0002.JPG', '2026:05:03 03:30:00');
        $intake = $this->sheet();
        self::assertCount(1, $intake->entries, 'one night');
        $this->get(SheetEdits::class)->correct($intake, 'Tarn Optical Heron 5', 3600);
        self::assertSame(
            ['2026-05-02', '2026-05-03'],
            $this->again($intake)->entries->map(static fn (Entry $entry): ?string => $entry->day?->text())->toArray(),
        );
        $frame = $this->frames($intake)[1];
        self::assertSame(
            ['2026-05-03T04:30:00', '2026-05-03T03:30:00'],
            [
                $frame->capturedAt()?->text(),
                $this->get(SheetFrames::class)->facts([$frame->frame->id])[$frame->frame->id]['captured_at'] ?? null,
            ],
            'the camera’s own time stays',
        );
    }

    public function testAClockThatBeganAgainIsHintedAndPutRight(): void
    {
        $this->shot('DCIM/100/T0001.JPG', '1980:01:01 10:00:00');
        $this->shot('DCIM/100/T0002.JPG', '1980:01:01 10:00:05');
        $intake = $this->sheet();
        $notes = function () use ($intake): array {
            $entries = $this->get(SheetView::class)->of($this->again($intake))['entries'];
            \assert(\is_array($entries) && \is_array($entries[0]) && \is_array($entries[0]['notes']));

            return array_column($entries[0]['notes'], 'text', 'code');
        };
        self::assertSame(
            'T0001 and 1 more: a day long past, or still to come. Correct the clock above.',
            $notes()['clock_wrong'] ?? null,
        );
        $seconds = (int) gmmktime(9, 0, 0, 5, 2, 2026) - (int) gmmktime(10, 0, 0, 1, 1, 1980);
        $this->get(SheetEdits::class)->correct($this->again($intake), 'Tarn Optical Heron 5', $seconds);
        self::assertArrayNotHasKey('clock_wrong', $notes());
        self::assertSame('2026-05-02', $this->again($intake)->entries[0]?->day?->text());
    }

    public function testAStyleIsFollowedToTheFile(): void
    {
        $styles = $this->get(Styles::class);
        $styles->save(HouseStyle::fromArray([
            'name' => 'Harbour',
            'folder' => [
                [
                    ['piece' => 'client', 'blanks' => 'hyphen'],
                    ['piece' => 'text', 'text' => '_'],
                    ['piece' => 'shoot_day', 'format' => 'yyMMdd'],
                ],
            ],
            'file' => [['piece' => 'camera'], ['piece' => 'text', 'text' => '-'], ['piece' => 'original_number']],
            'extension' => 'kept',
            'subfolders' => [
                'raw' => 'capture', 'jpeg' => 'proofs', 'skeleton' => ['selects', 'export/web'],
                'stages' => ['Working', 'Nowhere'],
            ],
            'take' => ['companions' => false], 'ties' => ['cards' => ['card']],
        ]));
        $this->get(CameraNames::class)->give('Tarn Optical Heron 5', 'A');
        $this->shelf();
        $this->get(Shelves::class)->at($this->folder.'/working', $this->folder.'/working twin', [], 'Working');
        $this->shot('DCIM/100/T0417.JPG', '2026:05:02 19:31:40');
        $this->shot('DCIM/101/T0417.JPG', '2026:05:02 19:31:41');
        $this->file('card/DCIM/100/T0417.WAV', 'spoken');
        $intake = $this->sheet('never said');
        self::assertSame('Harbour', $intake->style, 'it is tied to the card');
        $this->get(SheetEdits::class)->name($intake, 1, ['client' => 'Tarn Hollow harbour']);
        $this->get(Intakes::class)->start($this->again($intake));
        $this->get(IntakeRun::class)->run($intake->id(), OnFailure::KeepGoing);
        self::assertSame(
            ['Tarn-Hollow-harbour_260502/proofs/A-0417-2.JPG', 'Tarn-Hollow-harbour_260502/proofs/A-0417.JPG'],
            $this->tree('shelf'),
        );
        foreach (['shelf', 'twin'] as $place) {
            self::assertDirectoryExists($this->folder.'/'.$place.'/Tarn-Hollow-harbour_260502/export/web');
        }
        foreach (['working', 'working twin'] as $stage) {
            self::assertSame(
                ['.', '..'],
                scandir($this->folder.'/'.$stage.'/Tarn-Hollow-harbour_260502'),
                'the same folder, for another stage of the work',
            );
        }
    }

    /** The page asks for the trip, and its level comes and goes with it; maker and numbers are the frames'. */
    public function testATripIsAskedForAndMayBeALevel(): void
    {
        $this->get(Styles::class)->save(HouseStyle::fromArray([
            'name' => 'Journeys',
            'folder' => [
                [['piece' => 'trip']],
                [
                    ['piece' => 'maker'], ['piece' => 'text', 'text' => ' '], ['piece' => 'first_number'],
                    ['piece' => 'text', 'text' => '-'], ['piece' => 'last_number'],
                ],
            ],
            'ties' => ['cards' => ['card']],
        ] + HouseStyle::standard()->toArray()));
        $this->shot('DCIM/100/T0417.JPG', '2026:05:02 19:31:40');
        $this->shot('DCIM/101/T0420.JPG', '2026:05:02 19:31:41');
        $intake = $this->sheet('Regatta');
        $address = '/api/sheets/'.$intake->id();
        $page = (string) $this->request('GET', $address)->getContent();
        self::assertStringContainsString('"asks":["trip"]', $page);
        self::assertStringContainsString('"folder":"Tarn Optical 0417-0420"', $page);
        $this->request('PATCH', $address.'/frames/'.$this->ids($intake)[0].'/entry', ['trip' => 'Tarn Hollow']);
        $page = (string) $this->request('GET', $address)->getContent();
        self::assertStringContainsString('"folder":"Tarn Hollow\/Tarn Optical 0417-0420"', $page);
    }

    /** One stroke sets the frames around a time-lapse aside, one more brings them back, and both can be undone. */
    public function testStraysAreSetAsideAtOneStroke(): void
    {
        foreach (['19:30:00', '19:30:03', '19:31:00', '19:31:20', '19:31:40', '19:32:00', '19:32:20', '19:32:40',
            '19:33:00', '19:33:20', '19:33:40', '19:34:00', '19:34:20', '19:34:40'] as $n => $at) {
            $this->shot(\sprintf('DCIM/100/T%04d.JPG', $n), '2026:05:02 '.$at);
        }
        $intake = $this->sheet('Tide clock');
        $address = '/api/sheets/'.$intake->id();
        $page = fn (): string => (string) $this->request('GET', $address)->getContent();
        self::assertStringContainsString('"title":"2 around the time-lapse"', $page());
        self::assertStringContainsString('"offers":"set_aside"', $page());
        $this->request('PATCH', $address.'/frames/'.$this->ids($intake)[0].'/entry', ['strays' => true]);
        self::assertStringContainsString('"offers":"bring_back"', $page());
        $this->request('POST', $address.'/edits', ['do' => 'undo']);
        self::assertStringContainsString('"offers":"set_aside"', $page());
        $this->request('POST', $address.'/edits', ['do' => 'redo']);
        self::assertStringContainsString('"offers":"bring_back"', $page());
        $this->get(Intakes::class)->start($this->again($intake));
        $this->get(IntakeRun::class)->run($intake->id(), OnFailure::KeepGoing);
        self::assertSame(
            [12, 2],
            array_values(array_count_values(array_map(\dirname(...), $this->tree('shelf')))),
        );
        self::assertSame(1, $this->database()->fetchOne('SELECT count(*) FROM shoot'), 'it is one shoot');
    }

    /** Raw files taken alone are never taken twice; their JPEGs come later, alone. */
    public function testWhatOfAFrameIsFiledIsNotCopiedAgain(): void
    {
        $this->file('card/DCIM/100/T0001.TRW', Samples::rawWithoutPreview());
        $this->shot('DCIM/100/T0001.JPG', '2026:05:02 19:31:40');
        foreach ([[Kinds::Raw, 1], [Kinds::Raw, 1], [Kinds::Both, 2], [Kinds::Both, 2]] as [$kinds, $files]) {
            $intake = $this->sheet('Regatta');
            $this->get(SheetEdits::class)->take($intake, $kinds, true);
            $this->get(Intakes::class)->settle($this->again($intake), false);
            $this->get(IntakeRun::class)->run($intake->id(), OnFailure::KeepGoing);
            self::assertCount($files, $this->tree('shelf'));
        }
    }

    public function testCountersOfADayGoOnInTheNextIntake(): void
    {
        $this->get(Styles::class)->save(
            HouseStyle::fromArray(
                [
                    'file' => [['piece' => 'counter', 'scope' => 'day', 'width' => 3]],
                    'name' => 'Standard',
                ] + HouseStyle::standard()->toArray(),
            ),
        );
        $this->shot('DCIM/100/T0001.JPG', '2026:05:02 19:31:40');
        $this->takeIn('Morning');
        $this->shot('DCIM/100/T0002.JPG', '2026:05:02 20:31:40');
        $this->takeIn('Evening');
        self::assertSame(['2026/2026-05-02 Evening/002.jpg', '2026/2026-05-02 Morning/001.jpg'], $this->tree('shelf'));
    }

    public function testAnEntryCanGoIntoAShootThatIsThere(): void
    {
        $this->shot('DCIM/100/T0001.JPG', '2026:05:02 19:31:40');
        $this->takeIn('Lantern Regatta');
        $this->shot('DCIM/100/T0002.JPG', '2026:05:02 20:31:40');
        $intake = $this->sheet('');
        $view = json_encode($this->get(SheetView::class)->of($intake), \JSON_THROW_ON_ERROR);
        self::assertStringContainsString('"name":"Lantern Regatta"', $view, 'it is offered');
        $shoot = $this->entities()->getRepository(Shoot::class)->findOneBy(['name' => 'Lantern Regatta']);
        $this->get(SheetEdits::class)->fileInto($intake, 1, $shoot);
        $this->get(Intakes::class)->start($this->again($intake));
        $this->get(IntakeRun::class)->run($intake->id(), OnFailure::KeepGoing);
        self::assertSame(
            [
                '2026/2026-05-02 Lantern Regatta/2026-05-02_0001.jpg',
                '2026/2026-05-02 Lantern Regatta/2026-05-02_lantern-regatta_0001.jpg',
            ],
            $this->tree('shelf'),
        );
        self::assertCount(1, $this->entities()->getRepository(Shoot::class)->findAll());
    }

    /** One plan: what the page shows, what the headless plan says and what the copy does. */
    public function testPageCommandAndCopyHoldTogether(): void
    {
        $intake = $this->sixFrames();
        $intake = $this->named($intake, 'Lantern Regatta');
        $page = [];
        foreach ($intake->entries as $entry) {
            foreach ($this->get(SheetView::class)->framesOf($intake, $entry->number, 0, 100) as $frame) {
                \assert(\is_array($frame['to']));
                array_push($page, ...$frame['to']);
            }
        }
        $command = json_decode(
            (string) shell_exec(
                \sprintf(
                    '%s %s/bin/console velvet:plan %s --shelf %s --twin %s --name %s --json 2>/dev/null',
                    \PHP_BINARY,
                    \dirname(__DIR__),
                    ...array_map(
                        escapeshellarg(...),
                        [$this->folder.'/card', $this->folder.'/shelf', $this->folder.'/twin', 'Lantern Regatta'],
                    ),
                ),
            ),
            true,
        );
        self::assertIsArray($command);
        self::assertIsArray($command['entries']);
        $said = [];
        foreach ($command['entries'] as $entry) {
            foreach (\is_array($entry) && \is_array($entry['frames']) ? $entry['frames'] : [] as $frame) {
                \assert(\is_array($frame) && \is_array($frame['to']));
                array_push($said, ...$frame['to']);
            }
        }
        self::assertSame($page, $said);
        $this->get(Intakes::class)->start($intake);
        $this->get(IntakeRun::class)->run($intake->id(), OnFailure::KeepGoing);
        sort($page);
        self::assertSame($page, $this->tree('shelf'));
        self::assertSame($page, $this->tree('twin'));
    }

    /** Everything selected is a pair of ids for each entry, and comes with those that stand alone. */
    public function testFramesAreNamedBySpans(): void
    {
        $intake = $this->sixFrames();
        $ids = $this->ids($intake);
        $edits = '/api/sheets/'.$intake->id().'/edits';
        $this->request('POST', $edits, ['do' => 'split', 'frame' => $ids[4]]);
        self::assertSame(
            '4 frames left out',
            $this->undone($edits, ['do' => 'leave_out', 'frames' => [$ids[5]], 'spans' => [[$ids[1], $ids[3]]]]),
        );
        $this->undone($edits, ['do' => 'undo']);
        // of two entries, the wrong way round, of no sheet
        foreach ([[$ids[1], $ids[5]], [$ids[3], $ids[1]], [$ids[0], 0]] as $span) {
            $refused = $this->request('POST', $edits, ['do' => 'leave_out', 'spans' => [$span]]);
            self::assertSame(404, $refused->getStatusCode());
        }
        self::assertSame(
            '3 frames moved',
            $this->undone($edits, ['do' => 'move', 'spans' => [[$ids[0], $ids[2]]], 'to' => $ids[4]]),
        );
    }

    /** A page that was left before it was answered asks again when it is back. */
    public function testWhatIsAskedForTwiceUnderOneKeyIsDoneOnce(): void
    {
        $intake = $this->sixFrames();
        $ids = $this->ids($intake);
        $edits = '/api/sheets/'.$intake->id().'/edits';
        $entries = fn (): int => \count((array) self::answer(
            $this->request('GET', '/api/sheets/'.$intake->id()),
        )['entries']);
        $ask = fn (string $do, ?int $frame, string $key): array => self::answer($this->request(
            'POST',
            $edits,
            ['do' => $do] + (null === $frame ? [] : ['frame' => $frame]),
            ['Idempotency-Key' => $key],
        ));
        $before = $entries();
        self::assertSame($ask('split', $ids[2], 'one'), $ask('split', $ids[2], 'one'));
        self::assertSame($before + 1, $entries());
        self::assertSame($ask('undo', null, 'two'), $ask('undo', null, 'two'));
        self::assertSame($before, $entries());
        // another sheet's key is another; what was refused was not done, and may be asked for again
        self::assertSame(422, $ask('split', 0, 'three')['status']);
        self::assertSame(422, $ask('split', 0, 'three')['status']);
        $ask('split', $ids[4], 'three');
        self::assertSame($before + 1, $entries());
        $entry = '/api/sheets/'.$intake->id().'/frames/'.$ids[0].'/entry';
        foreach (['Kiln', 'Kiln opening', 'Kiln'] as $name) { // the last is the first, that came late
            $this->request('PATCH', $entry, ['name' => $name], ['Idempotency-Key' => 'named '.$name]);
        }
        self::assertSame('Kiln opening', $this->again($intake)->entries[0]?->name);
    }

    public function testEditsByTheInterface(): void
    {
        $intake = $this->sixFrames();
        $ids = $this->ids($intake);
        $path = '/api/sheets/'.$intake->id();
        foreach ([
            [200, ['do' => 'split', 'frame' => $ids[3]]],
            [200, ['do' => 'move', 'frames' => [$ids[5]], 'to' => $ids[0]]],
            [200, ['do' => 'leave_out', 'frames' => [$ids[0]]]], [200, ['do' => 'take_back', 'frames' => [$ids[0]]]],
            [200, ['do' => 'join', 'frame' => $ids[3]]], [200, ['do' => 'undo']], [200, ['do' => 'redo']],
            [200, ['do' => 'clock', 'camera' => 'Tarn Optical Heron 5', 'seconds' => -60]],
            [422, ['do' => 'split', 'frame' => $ids[0]]], [422, ['do' => 'join', 'frame' => $ids[0]]],
            [404, ['do' => 'join', 'frame' => 0]],
            [422, ['do' => 'move', 'frames' => [0], 'to' => null]], [422, ['do' => 'dance']],
            [422, ['do' => 'leave_out']], [422, ['do' => 'leave_out', 'spans' => [[$ids[0]]]]],
            [422, ['do' => 'clock', 'camera' => 'x', 'seconds' => 2_000_000_000]],
        ] as [$status, $edit]) {
            $response = $this->request('POST', $path.'/edits', $edit);
            self::assertSame(
                $status,
                $response->getStatusCode(),
                json_encode($edit, \JSON_THROW_ON_ERROR).$response->getContent(),
            );
        }
        foreach ([
            [200, ['divide' => ['by' => 'pause', 'day_starts' => '05:00', 'break_after' => 30]]],
            [200, ['kinds' => 'raw', 'companions' => false]],
            [422, ['divide' => ['by' => 'day', 'day_starts' => '25:00', 'break_after' => null]]],
            [404, ['style' => 'Nobody’s']],
            [422, ['kinds' => 'tiff']],
        ] as [$status, $change]) {
            self::assertSame(
                $status,
                $this->request('PATCH', $path, $change)->getStatusCode(),
                json_encode($change, \JSON_THROW_ON_ERROR),
            );
        }
    }

    /** What is typed on a page that does not know yet of a split on another is said of the entry that was meant. */
    public function testAnEntryIsKnownByItsFramesWhateverItsNumber(): void
    {
        $intake = $this->sixFrames();
        $ids = $this->ids($intake);
        $path = '/api/sheets/'.$intake->id();
        $entries = function () use ($path): array {
            $entries = self::answer($this->request('GET', $path))['entries'];
            \assert(\is_array($entries));

            return array_column($entries, 'name', 'frame');
        };
        $this->request('POST', $path.'/edits', ['do' => 'split', 'frame' => $ids[3]]);
        self::assertSame([$ids[0] => '', $ids[3] => ''], $entries());
        $this->request('POST', $path.'/edits', ['do' => 'split', 'frame' => $ids[1]]); // elsewhere
        $this->request('PATCH', $path."/frames/$ids[3]/entry", ['name' => 'Quay']); // the second, as it is seen here
        self::assertSame([$ids[0] => '', $ids[1] => '', $ids[3] => 'Quay'], $entries());
        $this->request('POST', $path.'/edits', ['do' => 'join', 'frame' => $ids[3]]);
        self::assertSame([$ids[0], $ids[1]], array_keys($entries()));
        self::assertSame(404, $this->request('PATCH', $path.'/frames/0/entry', ['name' => 'x'])->getStatusCode());
    }

    /** A page knows by the count which of its edits an answer holds, and asks for frames by their ids. */
    public function testEveryEditIsCountedAndFramesAreFoundByTheirIds(): void
    {
        $intake = $this->sixFrames();
        $ids = $this->ids($intake);
        $path = '/api/sheets/'.$intake->id();
        $revisions = fn (): array => array_map(
            fn (string $below): mixed => self::answer($this->request('GET', $path.$below))['revision'],
            ['', '/tape'],
        );
        $names = function (string $of) use ($path): array {
            $frames = self::answer($this->request('GET', $path.'/frames?of='.$of))['frames'];
            \assert(\is_array($frames));

            return array_column($frames, 'id');
        };
        self::assertSame([0, 0], $revisions());
        $count = 0;
        foreach ([
            ['POST', '/edits', ['do' => 'split', 'frame' => $ids[3]]],
            ['PATCH', "/frames/$ids[0]/entry", ['name' => 'Kiln']],
            ['PATCH', "/frames/$ids[4]/entry", ['name' => 'Quay']],
            ['POST', '/edits', ['do' => 'leave_out', 'frames' => [$ids[0]]]],
            ['POST', '/edits', ['do' => 'undo']],
            ['POST', '/edits', ['do' => 'redo']],
            ['PATCH', '', ['kinds' => 'raw']],
        ] as [$method, $below, $body]) {
            $answer = self::answer($this->request($method, $path.$below, $body));
            self::assertSame(++$count, $answer['revision']);
            self::assertSame([$count, $count], $revisions());
            self::assertSame(self::answer($this->request('GET', $path))['history'], $answer['history']);
        }
        self::assertSame([$ids[1], $ids[4]], $names("$ids[4],$ids[1],999999"), 'in the order of the sheet');
        foreach (['', ',', '1,', '-1', '1;2', implode(',', range(1, 501)), str_repeat('9', 30)] as $of) {
            self::assertSame(422, $this->request('GET', $path.'/frames?of='.$of)->getStatusCode(), $of);
        }
        $this->get(Intakes::class)->start($this->again($intake));
        self::assertSame(409, $this->request('GET', $path.'/frames?of=1')->getStatusCode());
    }

    /**
     * @param array<string, mixed> $edit
     *
     * @return mixed what Undo would take back after it
     */
    private function undone(string $edits, array $edit): mixed
    {
        $history = self::answer($this->request('POST', $edits, $edit))['history'];
        self::assertIsArray($history);

        return $history['undo'];
    }

    /** @return array<mixed> */
    private static function answer(Response $response): array
    {
        $answer = json_decode((string) $response->getContent(), true, 32, \JSON_THROW_ON_ERROR);
        self::assertIsArray($answer);

        return $answer;
    }

    public function testStylesByTheInterface(): void
    {
        $standard = HouseStyle::standard()->toArray();
        $new = $this->request('POST', '/api/styles', ['style' => $standard]);
        self::assertSame(201, $new->getStatusCode());
        self::assertStringContainsString('"added":"Standard 2"', (string) $new->getContent());
        self::assertSame(
            200,
            $this->request(
                'PUT',
                '/api/styles/'.rawurlencode('Standard 2'),
                ['style' => ['name' => 'Weddings'] + $standard],
            )->getStatusCode(),
        );
        self::assertSame(200, $this->request('POST', '/api/styles/Weddings/standard')->getStatusCode());
        self::assertSame('Weddings', $this->get(Styles::class)->standard()->name);
        self::assertSame(409, $this->request('DELETE', '/api/styles/Weddings')->getStatusCode());
        self::assertSame(200, $this->request('DELETE', '/api/styles/Standard')->getStatusCode());
        $refused = $this->request(
            'POST',
            '/api/styles/samples',
            ['style' => ['file' => [['piece' => 'shoot_name']]] + $standard],
        );
        self::assertSame(422, $refused->getStatusCode());
        self::assertStringContainsString('tells two frames of a shoot apart', (string) $refused->getContent());
        self::assertSame(
            204,
            $this->request('PUT', '/api/cameras', ['camera' => 'Heron 5', 'name' => 'A'])->getStatusCode(),
        );
    }

    /** A frame a minute from nine o'clock, all of one day. */
    private function sixFrames(): Intake
    {
        for ($n = 1; $n <= 6; ++$n) {
            $this->shot("DCIM/100/T000$n.JPG", \sprintf('2026:05:02 09:%02d:00', $n));
        }

        return $this->sheet('');
    }

    private function named(Intake $intake, string $name = 'Regatta'): Intake
    {
        foreach ($intake->entries as $entry) {
            $this->get(SheetEdits::class)->name($intake, $entry->number, ['name' => $name]);
        }

        return $this->again($intake);
    }

    /** @return list<SheetFrame> */
    private function frames(Intake $intake): array
    {
        return array_merge(...array_values($this->get(SheetFrames::class)->ofIntake($intake->id())));
    }

    /** @return list<int> in the order of the sheet */
    private function ids(Intake $intake): array
    {
        return array_map(static fn (SheetFrame $frame): int => $frame->frame->id, $this->frames($intake));
    }

    /** @return list<array{string, int}> name and frames of each entry */
    private function shape(Intake $intake): array
    {
        $frames = $this->get(SheetFrames::class)->ofIntake($intake->id());

        return array_values(
            $this->again($intake)->entries->map(
                static fn (Entry $entry): array => [$entry->name, \count($frames[$entry->id()] ?? [])],
            )->toArray(),
        );
    }

    /** Everything that can be edited, as it stands. */
    private function state(Intake $intake): string
    {
        $view = $this->get(SheetView::class)->of($this->again($intake));
        unset($view['history'], $view['revision'], $view['rooms']);
        $frames = array_map(
            static fn (SheetFrame $one): array => [
                $one->frame->id, $one->frame->state->value, $one->capturedAt()?->text(),
            ],
            $this->frames($intake),
        );

        return json_encode([$view, $frames], \JSON_THROW_ON_ERROR);
    }
}
