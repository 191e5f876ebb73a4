<?php

declare(strict_types=1);

namespace Velvet\Server\Tests;

use Velvet\Core\Keyword\KeywordPath;
use Velvet\Core\Style\HouseStyle;
use Velvet\Core\Tests\Capture\Samples;
use Velvet\Server\Work\Intakes\IntakeRun;
use Velvet\Server\Work\Intakes\Intakes;
use Velvet\Server\Work\Intakes\OnFailure;
use Velvet\Server\Work\Ledger\LedgerCheck;
use Velvet\Server\Work\Metadata\LookAtShoot;
use Velvet\Server\Work\Metadata\LookAtShootHandler;
use Velvet\Server\Work\Metadata\OutsideChanges;
use Velvet\Server\Work\Metadata\OutsideRefused;
use Velvet\Server\Work\Metadata\ShootMetadata;
use Velvet\Server\Work\Metadata\WordsChange;
use Velvet\Server\Work\Metadata\WriteMetadata;
use Velvet\Server\Work\Metadata\WriteMetadataHandler;

/** Changes after the filing, ours and those of other programs (exiftool plays one of them). */
final class AfterwardsTest extends ServerTestCase
{
    public function testASelectionIsChangedAndUndoneAndTheFilesFollow(): void
    {
        $frames = $this->filed();
        $metadata = $this->get(ShootMetadata::class);
        $metadata->change(
            1,
            [$frames[0]],
            new WordsChange(
                ['headline' => 'First boat', 'creator' => '', 'event' => 'Regatta week'],
                [KeywordPath::typed('boats')],
                [],
                4,
            ),
        );
        $this->follow();
        $said = $this->said('jpg', 0);
        self::assertSame(
            ['First boat', null, ['Tarn Hollow', 'boats'], 4],
            [$said['Headline'] ?? null, $said['Creator'] ?? null, $said['Subject'] ?? null, $said['Rating'] ?? null],
        );

        $both = $metadata->of(1, \array_slice($frames, 0, 2));
        self::assertSame([null, 2], [self::text($both, 'headline'), self::framesSaying($both, 'headline')]);
        self::assertSame(
            [null, 1],
            [self::text($both, 'creator'), self::framesSaying($both, 'creator')],
            'one has none',
        );
        self::assertSame('© 2026 Ines Varga-Holt', self::text($both, 'copyright'));
        self::assertSame(
            [['Tarn Hollow', 2], ['boats', 1]],
            array_map(
                static fn (array $keyword): array => [$keyword['path'][0], $keyword['frames']],
                $both['keywords'],
            ),
        );
        self::assertSame(['value' => null, 'mixed' => true], $both['rating']);

        self::assertSame('headline, creator, event, keywords, rating of 1 frame', $metadata->history(1)['undo']);
        $metadata->undo(1);
        $this->follow();
        $said = $this->said('jpg', 0);
        self::assertSame(
            ['Ines Varga-Holt', 'Tarn Hollow', null],
            [$said['Creator'] ?? null, $said['Subject'] ?? null, $said['Event'] ?? null],
        );
        self::assertContains($said['Rating'] ?? 0, [0], 'a rating that was none is none again');
        self::assertNull($metadata->history(1)['undo']);
        $this->allIsAsTheLedgerHasIt();
    }

    public function testRawFilesFollowInTheirSidecars(): void
    {
        $frames = $this->filed();
        $raw = $frames[2];
        $this->get(ShootMetadata::class)->change(1, [$raw], new WordsChange(['title' => 'Quay at dusk']));
        $this->follow();
        self::assertSame('Quay at dusk', $this->said('xmp', 0)['Title'] ?? null);
        $this->get(ShootMetadata::class)->change(1, [$raw], new WordsChange(['title' => 'Quay at night']));
        $this->follow();
        self::assertSame('Quay at night', $this->said('xmp', 0)['Title'] ?? null);
        $this->allIsAsTheLedgerHasIt();
    }

    public function testTheirsIsTakenWhereAnotherProgramChangedAFile(): void
    {
        $frames = $this->filed();
        $path = $this->ending('jpg')[0];
        exec(
            'exiftool -q -overwrite_original -XMP-dc:Subject=nets -XMP-xmp:Rating=5 -XMP-photoshop:Headline="Theirs" '
                .'-IPTC:Headline="Theirs" -IPTC:Keywords=nets '.escapeshellarg($this->folder.'/shelf/'.$path),
        );
        $changes = $this->lookAndSee();
        self::assertCount(1, $changes);
        self::assertSame(['shelf', false], [$changes[0]['place'], $changes[0]['picture_changed']]);
        self::assertSame(['headline', 'keywords', 'rating'], array_column($changes[0]['differences'], 'field'));
        // ours waits until it is said whose is to stay
        $this->get(ShootMetadata::class)->change(1, [$frames[0]], new WordsChange(['event' => 'Lantern Regatta']));
        $this->follow();
        self::assertNull($this->said('jpg', 0)['Event'] ?? null);
        $this->get(OutsideChanges::class)->takeTheirs($changes[0]['file']);
        self::assertSame([], $this->lookAndSee());
        $says = $this->get(ShootMetadata::class)->of(1, [$frames[0]]);
        self::assertSame(
            ['Theirs', 5, [['nets']]],
            [self::text($says, 'headline'), $says['rating']['value'], array_column($says['keywords'], 'path')],
        );
        self::assertSame(
            sha1_file($this->folder.'/shelf/'.$path),
            sha1_file($this->folder.'/twin/'.$path),
            'the twin gets it too',
        );
        $this->allIsAsTheLedgerHasIt();
    }

    public function testOursIsKeptAndWhatElseTheyWroteStays(): void
    {
        $this->filed();
        $path = $this->ending('jpg')[0];
        exec(
            'exiftool -q -overwrite_original -XMP-photoshop:Headline="Theirs" -XMP-tiff:Software=OtherProgram '
                .escapeshellarg($this->folder.'/twin/'.$path),
        );
        [$change] = $this->lookAndSee();
        self::assertSame('twin', $change['place']);
        $this->get(OutsideChanges::class)->keepOurs($change['file']);
        $this->follow();
        $said = $this->said('jpg', 0);
        self::assertSame(['Regatta', 'OtherProgram'], [$said['Headline'] ?? null, $said['Software'] ?? null]);
        self::assertSame([], $this->lookAndSee());
        $this->allIsAsTheLedgerHasIt();
    }

    public function testAChangedPictureIsPutBackFromTheOtherCopy(): void
    {
        $this->filed();
        $path = $this->ending('jpg')[0];
        $good = (string) file_get_contents($this->folder.'/shelf/'.$path);
        $end = strrpos($good, "\xFF\xD9");
        file_put_contents($this->folder.'/shelf/'.$path, substr_replace($good, "\x11\x22", (int) $end - 4, 2).'x');
        [$change] = $this->lookAndSee();
        self::assertTrue($change['picture_changed']);
        $this->get(OutsideChanges::class)->keepOurs($change['file']);
        self::assertStringEqualsFile($this->folder.'/shelf/'.$path, $good);
        self::assertSame([], $this->lookAndSee());
        $this->expectException(OutsideRefused::class);
        $this->get(OutsideChanges::class)->takeTheirs($change['file']);
    }

    public function testASidecarThatAnEditorLaidBesideARawFileIsNoticed(): void
    {
        $frames = $this->filed(false);
        $raw = $this->ending('trw')[0];
        exec(
            'exiftool -q -XMP-xmp:Rating=3 -XMP-xmp:Label=Second '.escapeshellarg(
                $this->folder.'/shelf/'.substr($raw, 0, -4).'.xmp',
            ),
        );
        [$change] = $this->lookAndSee();
        self::assertSame(['label', 'rating'], array_column($change['differences'], 'field'));
        $this->get(OutsideChanges::class)->takeTheirs($change['file']);
        self::assertSame($this->tree('shelf'), $this->tree('twin'));
        $says = $this->get(ShootMetadata::class)->of(1, [$frames[2]]);
        self::assertSame(['Second', 3], [self::text($says, 'label'), $says['rating']['value']]);
        $this->allIsAsTheLedgerHasIt();
    }

    public function testAReadOnlyShelfLeavesTheFilesAsTheyWereAndSaysSo(): void
    {
        $frames = $this->filed();
        $path = $this->folder.'/shelf/'.$this->ending('jpg')[0];
        unlink($path);
        mkdir($path); // not even root can write a file there
        $this->get(ShootMetadata::class)->change(1, [$frames[0]], new WordsChange(['headline' => 'Never']));
        $this->follow();
        $says = $this->get(ShootMetadata::class)->of(1, [$frames[0]]);
        self::assertCount(1, $says['refused']);
        self::assertStringContainsString(' stays as it was: ', $says['refused'][0]);
        self::assertSame('Regatta', $this->said('jpg', 0)['Headline'] ?? null, 'the twin\'s copy is untouched');
    }

    public function testOverHttp(): void
    {
        $frames = $this->filed();
        self::assertSame(200, $this->request('POST', '/api/shoots/1/says', [])->getStatusCode());
        $answer = $this->request(
            'PATCH',
            '/api/shoots/1/says',
            ['frames' => [$frames[0]], 'texts' => ['title' => 'Quay'], 'add' => ['Places › Quay'], 'rating' => 2],
        );
        self::assertSame(200, $answer->getStatusCode());
        self::assertStringContainsString('"path":["Places","Quay"]', (string) $answer->getContent());
        self::assertSame(
            422,
            $this->request('PATCH', '/api/shoots/1/says', ['texts' => ['nothing' => 'x']])->getStatusCode(),
        );
        self::assertSame(202, $this->request('POST', '/api/shoots/1/look')->getStatusCode());
        self::assertSame('{"changes":[]}', $this->request('GET', '/api/shoots/1/outside')->getContent());
        self::assertSame(200, $this->request('POST', '/api/shoots/1/undo')->getStatusCode());
        self::assertSame(409, $this->request('POST', '/api/files/1/outside', ['keep' => 'ours'])->getStatusCode());
        self::assertSame(404, $this->request('POST', '/api/shoots/77/says', [])->getStatusCode());
    }

    public function testAllFramesButSomeAreNamedByThoseAndByHowManyAllWere(): void
    {
        $frames = $this->filed();
        $but = ['except' => [$frames[2]], 'of' => 3];
        $answer = $this->request('PATCH', '/api/shoots/1/says', $but + ['rating' => 2]);
        self::assertSame(200, $answer->getStatusCode());
        foreach ([2, 2, 0] as $n => $rating) {
            self::assertSame($rating, $this->get(ShootMetadata::class)->of(1, [$frames[$n]])['rating']['value']);
        }
        foreach (['says', 'raws'] as $what) {
            self::assertSame(200, $this->request('POST', '/api/shoots/1/'.$what, $but)->getStatusCode());
        }
        self::assertSame(
            200,
            $this->request('POST', '/api/shoots/1/says', ['except' => $frames, 'of' => 3])->getStatusCode(),
        );
        $judged = $this->request('PATCH', '/api/shoots/1/verdicts', ['judgements' => [$but + ['verdict' => 'struck']]]);
        self::assertSame(200, $judged->getStatusCode());
        self::assertSame(
            [2, 1],
            [
                $this->database()->fetchOne("SELECT count(*) FROM filed_frame WHERE verdict = 'struck'"),
                $this->database()->fetchOne("SELECT count(*) FROM filed_frame WHERE verdict = 'open'"),
            ],
        );
        $late = $this->request('PATCH', '/api/shoots/1/says', ['of' => 2, 'rating' => 5]);
        self::assertSame(409, $late->getStatusCode());
        self::assertStringContainsString(
            'The shoot had 2 frames when they were selected and has 3 now. Nothing was changed.',
            (string) $late->getContent(),
        );
        self::assertSame(
            422,
            $this->request('PATCH', '/api/shoots/1/says', $but + ['frames' => $frames, 'rating' => 1])->getStatusCode(),
        );
    }

    /** @return list<int> the ids of two JPEGs and a raw file */
    private function filed(bool $says = true): array
    {
        $this->shot('DCIM/100/T0001.JPG', '2026:05:02 19:31:40');
        $this->shot('DCIM/100/T0002.JPG', '2026:05:02 19:31:50');
        $this->file('card/DCIM/100/T0003.TRW', Samples::rawWithoutPreview());
        $intake = $this->sheet('Regatta');
        if ($says) {
            $intake->styleDocument = ['metadata' => [
                'texts' => [
                    ['field' => 'creator', 'pieces' => [['piece' => 'text', 'text' => 'Ines Varga-Holt']]],
                    ['field' => 'copyright', 'pieces' => [['piece' => 'text', 'text' => '© 2026 Ines Varga-Holt']]],
                    ['field' => 'headline', 'pieces' => [['piece' => 'shoot_name']]],
                ],
                'keywords' => ['Tarn Hollow'],
            ]] + HouseStyle::standard()->toArray();
            $this->entities()->flush();
        }
        $this->get(Intakes::class)->settle($intake, false);
        $this->get(IntakeRun::class)->run($intake->id(), OnFailure::KeepGoing);
        $ids = array_map(
            static fn (mixed $id): int => is_numeric($id) ? (int) $id : 0,
            $this->database()->fetchFirstColumn(
                'SELECT f.id FROM filed_frame f JOIN filed_file p ON p.frame_id = f.id ORDER BY p.original_path',
            ),
        );
        self::assertCount(3, $ids);

        return $ids;
    }

    private function follow(): void
    {
        ($this->get(WriteMetadataHandler::class))(new WriteMetadata());
    }

    /**
     * @return list<array{file: int, name: string, path: string, place: string, picture_changed: bool,
     *     differences: list<array{field: string, ours: string, theirs: string}>}>
     */
    private function lookAndSee(): array
    {
        ($this->get(LookAtShootHandler::class))(new LookAtShoot(1));

        return $this->get(OutsideChanges::class)->in(1);
    }

    private function allIsAsTheLedgerHasIt(): void
    {
        $check = $this->get(LedgerCheck::class)->of(null, static function (string $file): void {});
        self::assertSame([[], [], []], [$check->changed, $check->missing, $check->unknown]);
        self::assertSame($this->tree('shelf'), $this->tree('twin'));
    }

    /** @param array{texts: list<array{field: string, text: string|null, frames: int}>} $says */
    private static function text(array $says, string $field): ?string
    {
        return array_column($says['texts'], 'text', 'field')[$field] ?? null;
    }

    /** @param array{texts: list<array{field: string, text: string|null, frames: int}>} $says */
    private static function framesSaying(array $says, string $field): ?int
    {
        return array_column($says['texts'], 'frames', 'field')[$field] ?? null;
    }

    /** @return array<mixed> what exiftool finds in the twin's copy */
    private function said(string $extension, int $n): array
    {
        $json = json_decode(
            (string) shell_exec('exiftool -json '.escapeshellarg($this->folder.'/twin/'.$this->ending($extension)[$n])),
            true,
        );

        return \is_array($json) && \is_array($json[0]) ? $json[0] : [];
    }

    /** @return list<string> */
    private function ending(string $extension): array
    {
        return array_values(
            array_filter($this->tree('shelf'), static fn (string $path): bool => str_ends_with($path, '.'.$extension)),
        );
    }
}
