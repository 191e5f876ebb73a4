<?php

declare(strict_types=1);

namespace Velvet\Server\Tests;

use Velvet\Core\Keyword\Keyword;
use Velvet\Core\Keyword\KeywordList;
use Velvet\Core\Keyword\KeywordPath;
use Velvet\Core\Keyword\KeywordRefused;
use Velvet\Core\Keyword\KeywordTree;
use Velvet\Core\Metadata\Metadata;
use Velvet\Server\Work\Intakes\IntakeRun;
use Velvet\Server\Work\Intakes\Intakes;
use Velvet\Server\Work\Intakes\OnFailure;
use Velvet\Server\Work\Keywords\Keywords;
use Velvet\Server\Work\Metadata\KeywordEdits;
use Velvet\Server\Work\Metadata\WriteMetadata;
use Velvet\Server\Work\Metadata\WriteMetadataHandler;
use Velvet\Server\Work\Sheets\SheetEdits;

/** The catalogue, and that the files follow it; read back by exiftool from Debian. */
final class KeywordsTest extends ServerTestCase
{
    public function testKeywordsOfAnEntryAreWrittenFlatAndNestedAndFollowTheCatalogue(): void
    {
        $list = KeywordList::read('k.csv', "keyword,heading\nPlaces,yes\nPlaces › Tarn Hollow › Quay,\nboats,\n");
        $this->get(KeywordEdits::class)->import($list);
        $this->shot('DCIM/100/T0001.JPG', '2026:05:02 19:31:40');
        $this->filed(['Quay', 'boats', 'lanterns']);
        self::assertSame(['Tarn Hollow', 'Quay', 'boats', 'lanterns'], $this->said('Subject'));
        self::assertSame(['Tarn Hollow', 'Quay', 'boats', 'lanterns'], $this->said('Keywords'), 'IIM says the same');
        self::assertSame(
            ['Tarn Hollow', 'Quay'],
            [$this->said('HierarchicalKeywords1'), $this->said('HierarchicalKeywords2')],
        );

        $keywords = $this->get(Keywords::class);
        $edits = $this->get(KeywordEdits::class);
        $quay = $keywords->tree()->get($this->id('Places › Tarn Hollow › Quay'));
        $edits->change(new Keyword($quay->id, $quay->above, 'Old Quay'));
        $this->follow();
        self::assertSame(['Tarn Hollow', 'Old Quay', 'boats', 'lanterns'], $this->said('Subject'));

        $edits->merge($this->id('lanterns'), $this->id('boats'));
        self::assertSame(
            ['lanterns'],
            $keywords->tree()->get($this->id('boats'))->synonyms,
            'what it was called finds the other',
        );
        $edits->change(new Keyword($this->id('Places › Tarn Hollow'), null, 'Tarn Hollow', private: true));
        $this->follow();
        self::assertSame(['Old Quay', 'boats'], $this->said('Subject'), 'a private one is in no file');

        $edits->delete($this->id('Tarn Hollow'));
        $this->follow();
        self::assertSame('boats', $this->said('Subject'));
        self::assertSame(
            sha1_file($this->folder.'/shelf/'.$this->path()),
            sha1_file($this->folder.'/twin/'.$this->path()),
        );
        self::assertSame(
            0,
            $this->database()->fetchOne("SELECT count(*) FROM filed_file WHERE metadata_state <> 'written'"),
        );
    }

    /** Of a few keywords a part of the catalogue tells what the whole tells. */
    public function testAPartOfTheCatalogueTellsWhatTheWholeTells(): void
    {
        $keywords = $this->get(Keywords::class);
        $this->get(KeywordEdits::class)->import(
            KeywordList::read(
                'k.csv',
                "keyword,heading\nPlaces,yes\nPlaces › Tarn Hollow › Quay,\nPlaces › Harbour › Quay,\n"
                    ."Places › Harbour › Crane,\nboats,\nPeople › Ines,\n",
            ),
        );
        $whole = $keywords->tree();
        $paths = array_map(
            KeywordPath::typed(...),
            ['quay', 'Crane', 'BOATS', 'Ines', 'Nowhere', 'Harbour › Quay', 'Places › Harbour › Quay', 'Places'],
        );
        $part = $keywords->about([], $paths);
        foreach ($paths as $path) {
            self::assertEquals($whole->placed($path), $part->placed($path), $path->text());
            self::assertEquals($whole->find($path), $part->find($path), $path->text());
            self::assertSame(
                $whole->written([$whole->placed($path)]),
                $part->written([$whole->placed($path)]),
                $path->text(),
            );
        }
        self::assertNull($part->find(KeywordPath::typed('Places › Tarn Hollow › Crane')));
        $crane = $this->id('Places › Harbour › Crane');
        self::assertEquals($whole->path($crane), $keywords->about([$crane, 987_654])->path($crane));
        self::assertFalse($keywords->about([$crane])->has($this->id('boats')), 'nothing else is read');
        $file = new Metadata(keywords: ['crane', 'new', ' '], paths: [['Places', 'Harbour', 'Quay'], ['', 'x']]);
        self::assertEquals($whole->saidBy($file), $keywords->about([], KeywordTree::namedBy($file))->saidBy($file));
    }

    public function testSeveralAreAddedBeneathOneThatIsNewItself(): void
    {
        $keywords = $this->get(Keywords::class);
        $ids = $keywords->ids(array_map(KeywordPath::typed(...), ['A › B', 'A › C', 'A', 'A › B']));
        self::assertSame([$this->id('A › B'), $this->id('A › C'), $this->id('A')], $ids);
    }

    public function testWhatCannotBeIsRefused(): void
    {
        $keywords = $this->get(Keywords::class);
        $edits = $this->get(KeywordEdits::class);
        $keywords->ids([KeywordPath::typed('A › B'), KeywordPath::typed('C')]);
        foreach ([
            'There is a keyword “C” already.' => fn () => $edits->change(
                new Keyword($this->id('A'), null, 'c'),
            ),
            '“A” cannot go into itself' => fn () => $edits->change(
                new Keyword($this->id('A'), $this->id('A › B'), 'A'),
            ),
            '“A” cannot go into itself or' => fn () => $edits->merge($this->id('A'), $this->id('A › B')),
        ] as $sentence => $refused) {
            try {
                $refused();
                self::fail($sentence);
            } catch (KeywordRefused $e) {
                self::assertStringContainsString($sentence, $e->getMessage());
            }
        }
    }

    public function testASheetForgetsAKeywordThatIsDeletedAndTakesTheOneItIsMergedInto(): void
    {
        $this->shot('DCIM/100/T0001.JPG', '2026:05:02 19:31:40');
        $intake = $this->sheet('Regatta');
        $this->get(SheetEdits::class)->tag(
            $intake,
            1,
            [KeywordPath::typed('boats'), KeywordPath::typed('nets'), KeywordPath::typed('ropes')],
        );
        $this->get(KeywordEdits::class)->merge($this->id('boats'), $this->id('nets'));
        $this->get(KeywordEdits::class)->delete($this->id('ropes'));
        self::assertStringContainsString(
            '"keywords":["nets"]',
            (string) $this->request('GET', '/api/sheets/'.$intake->id())->getContent(),
        );
    }

    public function testTheCatalogueOverHttp(): void
    {
        $this->request('POST', '/api/keywords', ['path' => 'Places › Quay']);
        $id = $this->id('Places › Quay');
        $answer = $this->request('PATCH', '/api/keywords/'.$id, ['synonyms' => ['Kai'], 'with_above' => false]);
        self::assertSame(200, $answer->getStatusCode());
        self::assertStringContainsString(
            '"by":"Kai"',
            (string) $this->request('GET', '/api/keywords/meant?by=kai')->getContent(),
        );
        self::assertSame(
            "Places\n\tQuay\n",
            $this->request('GET', '/api/keywords/export.txt')->getContent(),
        );
        self::assertSame(404, $this->request('DELETE', '/api/keywords/9999')->getStatusCode());
        self::assertSame(200, $this->request('DELETE', '/api/keywords/'.$this->id('Places'))->getStatusCode());
        self::assertSame('', $this->request('GET', '/api/keywords/export.txt')->getContent());
    }

    /** @param list<string> $keywords */
    private function filed(array $keywords): void
    {
        $intake = $this->sheet('Regatta');
        $this->get(SheetEdits::class)->tag($intake, 1, array_map(KeywordPath::typed(...), $keywords));
        $this->get(Intakes::class)->settle($intake, false);
        $this->get(IntakeRun::class)->run($intake->id(), OnFailure::KeepGoing);
    }

    private function follow(): void
    {
        ($this->get(WriteMetadataHandler::class))(new WriteMetadata());
    }

    private function id(string $path): int
    {
        return $this->get(Keywords::class)->tree()->find(KeywordPath::typed($path))->id
            ?? throw new \LogicException("There is no $path.");
    }

    private function path(): string
    {
        return array_values(
            array_filter($this->tree('shelf'), static fn (string $path): bool => str_ends_with($path, '.jpg')),
        )[0];
    }

    private function said(string $tag): mixed
    {
        $json = json_decode(
            (string) shell_exec('exiftool -json '.escapeshellarg($this->folder.'/twin/'.$this->path())),
            true,
        );

        return \is_array($json) && \is_array($json[0]) ? $json[0][$tag] ?? null : null;
    }
}
