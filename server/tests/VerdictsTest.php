<?php

declare(strict_types=1);

namespace Velvet\Server\Tests;

use Symfony\Component\HttpFoundation\Response;
use Velvet\Core\Filed\Verdict;
use Velvet\Core\Keyword\KeywordPath;
use Velvet\Server\Work\Metadata\ShootMetadata;
use Velvet\Server\Work\Metadata\WordsChange;

/** The first look: verdicts and stars, undone and made again. */
final class VerdictsTest extends FirstLookTestCase
{
    public function testVerdictsStandInTheCatalogueAndAreUndoneAndMadeAgainInOrder(): void
    {
        [$first, $second, $third] = $this->filed(3);
        $metadata = $this->get(ShootMetadata::class);
        $metadata->change(1, [$first, $second], new WordsChange(verdict: Verdict::Kept));
        $metadata->change(1, [$second], new WordsChange(verdict: Verdict::Struck));
        self::assertSame(['kept', 'struck', 'open'], $this->verdicts());
        self::assertSame([3, 1, 1], $this->counts());

        $metadata->undo(1);
        self::assertSame(['kept', 'kept', 'open'], $this->verdicts());
        $metadata->undo(1);
        self::assertSame(['open', 'open', 'open'], $this->verdicts());
        self::assertSame([null, 'verdict of 2 frames'], [$metadata->history(1)['undo'], $metadata->history(1)['redo']]);
        $metadata->undo(1);
        self::assertSame(['open', 'open', 'open'], $this->verdicts(), 'there is nothing more');
        $metadata->redo(1);
        $metadata->redo(1);
        self::assertSame(['kept', 'struck', 'open'], $this->verdicts());
        self::assertNull($metadata->history(1)['redo']);
        $metadata->redo(1);

        $metadata->undo(1);
        $metadata->change(1, [$third], new WordsChange(verdict: Verdict::Kept));
        self::assertNull($metadata->history(1)['redo'], 'after another verdict that one is not made again');
        self::assertSame(['kept', 'kept', 'kept'], $this->verdicts());
    }

    public function testOneOfABurstIsKeptAndTheOthersStruckByOneStroke(): void
    {
        [$first, $second, $third] = $this->filed(3);
        $this->judge([
            'frames' => [$second], 'verdict' => 'kept', 'struck' => [$first, $third],
        ]);
        self::assertSame(['struck', 'kept', 'struck'], $this->verdicts());
        self::assertSame('verdict of 3 frames', $this->get(ShootMetadata::class)->history(1)['undo']);
        $this->request('POST', '/api/shoots/1/undo');
        self::assertSame(['open', 'open', 'open'], $this->verdicts());
        $this->request('POST', '/api/shoots/1/redo');
        self::assertSame(['struck', 'kept', 'struck'], $this->verdicts());
    }

    public function testNoFileIsWrittenForAVerdictAndOnceForItsStars(): void
    {
        [$frame] = $this->filed(1);
        $metadata = $this->get(ShootMetadata::class);
        $before = $this->digests();
        $metadata->change(1, [$frame], new WordsChange(verdict: Verdict::Kept));
        $metadata->undo(1);
        $metadata->redo(1);
        $this->follow();
        self::assertSame($before, $this->digests());

        foreach ([1, 5, 3] as $stars) {
            $metadata->change(1, [$frame], new WordsChange(rating: $stars));
        }
        self::assertSame(1, $this->database()->fetchOne(
            "SELECT count(*) FROM filed_file WHERE metadata_state = 'waiting'",
        ));
        $this->follow();
        foreach (['shelf', 'twin'] as $place) {
            // read by exiftool
            self::assertSame('3', trim((string) shell_exec(
                'exiftool -s3 -XMP-xmp:Rating '.escapeshellarg($this->folder.'/'.$place.'/'.$this->tree($place)[0]),
            )));
        }
        $metadata->undo(1);
        $metadata->redo(1);
        self::assertSame([3], array_column($this->pass('frames'), 'stars'));
    }

    public function testAVerdictThatIsSentASecondTimeIsGivenOnce(): void
    {
        [$frame] = $this->filed(1);
        $sent = ['frames' => [$frame], 'verdict' => 'kept', 'operation' => '0190a2b4-0000-7000-8000-00000000000a'];
        $this->judge($sent);
        $this->judge(['frames' => [$frame], 'verdict' => 'struck']);
        self::assertSame(200, $this->judge($sent)->getStatusCode());
        self::assertSame(['struck'], $this->verdicts(), 'the later word stands');
        $this->request('POST', '/api/shoots/1/undo');
        $this->request('POST', '/api/shoots/1/undo');
        self::assertNull($this->get(ShootMetadata::class)->history(1)['undo']);
        $refused = $this->judge(['operation' => 'once', 'verdict' => 'kept']);
        self::assertSame(422, $refused->getStatusCode());
    }

    public function testABurstNamesItsSharpestFrame(): void
    {
        $frames = $this->filed(3, '.%d');
        foreach ([0.2, 0.7, 0.4] as $n => $sharpness) {
            $this->database()->executeStatement(
                'INSERT INTO measured_picture VALUES (:picture, 0.5, 0, 0, :sharpness)
                    ON CONFLICT (picture) DO UPDATE SET sharpness = :sharpness',
                ['picture' => $n, 'sharpness' => $sharpness],
            );
            $this->database()->executeStatement(
                'UPDATE filed_frame SET picture = :picture WHERE id = :id',
                ['picture' => $n, 'id' => $frames[$n]],
            );
        }
        self::assertSame(
            [['kind' => 'burst', 'frames' => $frames, 'sharpest' => $frames[1]]],
            $this->pass('groups'),
        );
        $this->database()->executeStatement("UPDATE measured_picture SET in_focus = 0.5 WHERE picture IN ('0', '1')");
        $this->database()->executeStatement("UPDATE measured_picture SET in_focus = 0.6 WHERE picture = '2'");
        self::assertSame([$frames[2]], array_column($this->pass('groups'), 'sharpest'), 'where the camera focused');
    }

    public function testTriesOfOnePictureAreAGroup(): void
    {
        $frames = $this->filed(4); // every ten seconds: no burst
        $this->database()->executeStatement('UPDATE filed_frame SET picture = id');
        foreach ([str_repeat('0', 32), str_repeat('f', 32), str_repeat('f', 31).'7', null] as $n => $likeness) {
            $this->database()->executeStatement(
                'INSERT INTO measured_picture VALUES (:picture, 0.5, 0, 0, :sharpness, :likeness)
                    ON CONFLICT (picture) DO UPDATE SET sharpness = :sharpness, likeness = :likeness',
                ['picture' => $frames[$n], 'sharpness' => 0.9 - $n / 10, 'likeness' => $likeness],
            );
        }
        self::assertSame(
            [['kind' => 'alike', 'frames' => [$frames[1], $frames[2]], 'sharpest' => $frames[1]]],
            $this->pass('groups'),
        );
    }

    public function testWhatWasJudgedIsToldToEveryPage(): void
    {
        [$first, $second] = $this->filed(2);
        $answer = $this->judge([
            'frames' => [$first], 'verdict' => 'kept', 'stars' => 2,
        ]);
        self::assertSame(200, $answer->getStatusCode());
        self::assertSame(
            [
                'undo' => 'rating, verdict of 1 frame', 'undo_step' => 1,
                'redo' => null, 'redo_step' => null, 'turns' => [1],
            ],
            json_decode((string) $answer->getContent(), true),
        );
        self::assertEquals(
            [['id' => $first, 'verdict' => 'kept', 'stars' => 2, 'by' => null, 'beside' => [], 'tabs' => []]],
            $this->lastTold()['frames'] ?? null,
        );
        $this->judge(['verdict' => 'struck']); // all of them
        self::assertSame([$first, $second], array_column((array) ($this->lastTold()['frames'] ?? []), 'id'));
        foreach (['verdict' => 'perhaps', 'stars' => 6] as $member => $wrong) {
            $refused = $this->judge([$member => $wrong]);
            self::assertSame(422, $refused->getStatusCode());
        }
        self::assertSame(['struck', 'struck'], $this->verdicts());
        $there = $this->request('PATCH', '/api/shoots/99/verdicts', ['judgements' => [['stars' => 1]]]);
        self::assertSame(404, $there->getStatusCode());
    }

    public function testSeveralVerdictsComeTogetherAndAreUndoneOneByOne(): void
    {
        [$first, $second] = $this->filed(2);
        $this->judge(
            ['frames' => [$first], 'verdict' => 'kept'],
            ['frames' => [$first], 'verdict' => 'struck'],
            ['frames' => [$second], 'verdict' => 'kept'],
        );
        self::assertSame(['struck', 'kept'], $this->verdicts());
        $this->request('POST', '/api/shoots/1/undo');
        $this->request('POST', '/api/shoots/1/undo');
        self::assertSame(['kept', 'open'], $this->verdicts());
        // of several of which one cannot be meant, none is taken
        foreach ([
            [['stars' => 'five'], "\u{201c}judgements[1].stars\u{201d} must be a whole number"],
            [['stars' => 6], "\u{201c}judgements[1].stars\u{201d} must be a number from 0 to 5"],
            [['frames' => ['five']], "\u{201c}judgements[1].frames\u{201d} must be a list of whole numbers"],
            [['frames' => [], 'stars' => 1], "\u{201c}judgements[1].frames\u{201d} must name one at least"],
            [['verdict' => 'perhaps'], "\u{201c}judgements[1].verdict\u{201d} must be"],
            [['colour' => 'red'], 'colour'],
        ] as [$wrong, $sentence]) {
            $refused = $this->request('PATCH', '/api/shoots/1/verdicts', [
                'judgements' => [['frames' => [$first], 'verdict' => 'open'], $wrong],
            ]);
            self::assertSame(422, $refused->getStatusCode());
            $problem = json_decode((string) $refused->getContent(), true);
            self::assertIsArray($problem);
            self::assertIsString($problem['detail']);
            self::assertStringContainsString($sentence, $problem['detail']);
        }
        self::assertSame(['kept', 'open'], $this->verdicts());
    }

    public function testChangesAreNumberedSoThatAPageKnowsTheLaterOfTwo(): void
    {
        [$frame] = $this->filed(1);
        $sent = ['frames' => [$frame], 'verdict' => 'kept', 'operation' => '0190a2b4-0000-7000-8000-00000000000b'];
        $turns = static function (Response $answer): mixed {
            $told = json_decode((string) $answer->getContent(), true);

            return \is_array($told) ? $told['turns'] : null;
        };
        [$first, $second] = (array) $turns($this->judge($sent, ['frames' => [$frame], 'verdict' => 'struck']));
        self::assertGreaterThan($first, $second);
        self::assertSame($second, $this->lastTold()['turn'] ?? null);
        self::assertSame([0], $turns($this->judge($sent)), 'nothing was done by it');
        [$undone] = (array) $turns($this->request('POST', '/api/shoots/1/undo'));
        self::assertGreaterThan($second, $undone);
        self::assertSame($undone, $this->lastTold()['turn'] ?? null);
        $pass = json_decode((string) $this->request('GET', '/api/shoots/1/verdicts')->getContent(), true);
        self::assertSame($undone, ((array) $pass)['turn'] ?? null);
    }

    public function testWhatIsLeftToJudgeIsToldByReceiptAndBand(): void
    {
        [$first] = $this->filed(3);
        $told = fn (string $path): mixed => json_decode((string) $this->request('GET', $path)->getContent(), true);
        foreach ([3, 2] as $open) {
            $look = ['shoot' => 1, 'name' => 'Regatta', 'open' => $open];
            self::assertSame([$look], ((array) $told('/api/sheets/1'))['first_looks']);
            self::assertSame($look, ((array) $told('/api/bays'))['first_look']);
            $this->judge(['frames' => [$first], 'verdict' => 'kept']);
        }
    }

    public function testFramesAreToldApartByWhatTheyDifferIn(): void
    {
        [$first, $second] = $this->filed(2);
        $this->get(ShootMetadata::class)->change(1, [$first], new WordsChange(add: [KeywordPath::typed('Quay')]));
        $this->database()->executeStatement(
            'INSERT INTO measured_picture SELECT picture, 0, 1, 0, NULL FROM filed_frame WHERE id = :id
                ON CONFLICT (picture) DO UPDATE SET black = 1',
            ['id' => $second],
        );
        $facets = $this->pass('facets');
        $of = array_map(
            static fn (mixed $numbers): array => array_map(
                static fn (mixed $number): mixed => \is_int($number) ? $facets[$number] : null,
                (array) $numbers,
            ),
            array_column($this->pass('frames'), 'facets'),
        );
        $both = [['by' => 'kind', 'value' => 'JPEG'], ['by' => 'camera', 'value' => 'Heron 5']];
        self::assertSame([
            [...$both, ['by' => 'keyword', 'value' => 'Quay']],
            [...$both, ['by' => 'hint', 'value' => 'black']],
        ], $of);
        self::assertCount(4, $facets);
    }

    /** @return list<string|false> */
    private function digests(): array
    {
        return array_map(
            fn (string $path): string|false => hash_file('sha256', $this->folder.'/twin/'.$path),
            $this->tree('twin'),
        );
    }

    /** @return list<mixed> */
    private function verdicts(): array
    {
        return array_column($this->pass('frames'), 'verdict');
    }

    /** @return list<mixed> of the shoot: its frames, those that are open, those that are struck */
    private function counts(): array
    {
        $shoot = json_decode((string) $this->request('GET', '/api/shoots/1')->getContent(), true);

        return \is_array($shoot) ? [$shoot['frames'], $shoot['open'], $shoot['struck']] : [];
    }

    /** @return array<mixed> what was told last of frames that were judged */
    private function lastTold(): array
    {
        $payload = $this->database()->fetchOne(
            "SELECT payload FROM happening WHERE topic = 'judged' ORDER BY id DESC LIMIT 1",
        );

        return (array) json_decode(\is_string($payload) ? $payload : '', true);
    }
}
