<?php

declare(strict_types=1);

namespace Velvet\Server\Tests;

use PHPUnit\Framework\Attributes\TestWith;

/** Tabs: made, put on frames, written into their files, changed and deleted. */
final class TabsTest extends FirstLookTestCase
{
    public function testTabsAreMadeWithAKeyAndAColourOfTheirOwn(): void
    {
        self::assertSame([], $this->tabs());
        $this->make('Quay');
        $this->make('Quiet', 'clay');
        self::assertEquals([
            ['id' => 1, 'name' => 'Quay', 'colour' => 'mulberry', 'writes' => 'nothing', 'key' => 'q', 'frames' => 0],
            ['id' => 2, 'name' => 'Quiet', 'colour' => 'clay', 'writes' => 'nothing', 'key' => 'u', 'frames' => 0],
        ], $this->tabs());
        foreach ([
            ['POST', '/api/tabs', ['name' => 'QUAY'], 'There is a tab “Quay” already. Choose another name.'],
            ['POST', '/api/tabs', ['name' => ' '], 'A tab needs a name.'],
            ['POST', '/api/tabs', ['name' => 'Bridge', 'colour' => 'red'], 'colour'],
            ['PATCH', '/api/tabs/2', ['name' => 'quay'], 'There is a tab “Quay” already. Choose another name.'],
            ['PATCH', '/api/tabs/9', ['name' => 'Bridge'], 'There is no tab 9.'],
            ['DELETE', '/api/tabs/9', null, 'There is no tab 9.'],
        ] as [$method, $path, $body, $sentence]) {
            $refused = $this->request($method, $path, $body);
            self::assertSame(str_contains($sentence, 'tab 9') ? 404 : 422, $refused->getStatusCode());
            $problem = json_decode((string) $refused->getContent(), true);
            self::assertIsArray($problem);
            self::assertIsString($problem['detail']);
            self::assertStringContainsString($sentence, $problem['detail']);
        }
        $this->request('PATCH', '/api/tabs/1', ['name' => 'Bridge', 'colour' => 'moss']);
        self::assertSame(['Bridge', 'Quiet'], array_column($this->tabs(), 'name'));
        self::assertSame(['moss', 'clay'], array_column($this->tabs(), 'colour'));
        self::assertSame(['b', 'u'], array_column($this->tabs(), 'key'));
    }

    public function testSeveralStandOnOneFrameAndAreUndoneAndMadeAgain(): void
    {
        [$first, $second] = $this->filed(2);
        $this->make('Quay');
        $this->make('Late');
        $before = $this->tree('shelf');
        $this->judge(['frames' => [$first, $second], 'tabs' => [2]]);
        $this->judge(['frames' => [$first], 'tabs' => [1, 99], 'verdict' => 'kept']);
        self::assertSame([[1, 2], [2]], $this->tabsOfFrames(), 'in the order of the tabs');
        self::assertSame([1, 2], array_column($this->tabs(), 'frames'));
        $this->judge(['frames' => [$first, $second], 'untab' => [2]]);
        self::assertSame([[1], []], $this->tabsOfFrames());
        $undone = $this->request('POST', '/api/shoots/1/undo');
        self::assertSame(
            [
                'undo' => 'verdict, tabs of 1 frame', 'undo_step' => 2,
                'redo' => 'tabs of 2 frames', 'redo_step' => 3, 'turns' => [4],
            ],
            json_decode((string) $undone->getContent(), true),
        );
        self::assertSame([[1, 2], [2]], $this->tabsOfFrames());
        $this->request('POST', '/api/shoots/1/redo');
        self::assertSame([[1], []], $this->tabsOfFrames());
        self::assertSame($before, $this->tree('shelf'), 'no file says it, and none was written');
        self::assertSame(0, $this->waiting());

        $this->request('POST', '/api/shoots/1/undo');
        $this->request('DELETE', '/api/tabs/2');
        self::assertSame([[1], []], $this->tabsOfFrames());
        $this->request('POST', '/api/shoots/1/redo');
        $this->request('POST', '/api/shoots/1/undo');
        self::assertSame([[1], []], $this->tabsOfFrames(), 'one that is gone comes back with no undoing');
    }

    /**
     * Read by exiftool; property and dataset as in the XMP specification part 1 and IIM 4.2.
     *
     * @param list<string> $fields
     */
    #[TestWith(['keyword', ['XMP-dc:Subject', 'IPTC:Keywords']])]
    #[TestWith(['label', ['XMP-xmp:Label']])]
    public function testWhatATabWritesFollowsItInEveryPlace(string $writes, array $fields): void
    {
        [$frame, $other] = $this->filed(2);
        $this->make('Quay', writes: $writes);
        $this->make('Late', writes: $writes);
        $this->judge(['frames' => [$frame], 'tabs' => [1]]);
        self::assertSame(1, $this->waiting(), 'of the one frame');
        $this->says($fields, 'Quay');
        $this->request('POST', '/api/shoots/1/undo');
        $this->says($fields, '');
        $this->request('POST', '/api/shoots/1/redo');
        $this->request('PATCH', '/api/tabs/1', ['name' => 'Bridge']);
        $this->says($fields, 'Bridge');
        $this->request('PATCH', '/api/tabs/1', ['writes' => 'nothing']);
        $this->says($fields, '');
        $this->request('PATCH', '/api/tabs/1', ['writes' => $writes, 'colour' => 'plum']);
        $this->says($fields, 'Bridge');
        $this->request('PATCH', '/api/tabs/1', ['colour' => 'clay']);
        self::assertSame(0, $this->waiting(), 'no file has a colour');
        $this->judge(['frames' => [$frame], 'tabs' => [2]]);
        $this->says($fields, 'keyword' === $writes ? 'Bridge, Late' : 'Bridge');
        $this->judge(['frames' => [$frame], 'untab' => [1]]);
        $this->says($fields, 'Late');
        $this->request('DELETE', '/api/tabs/2');
        $this->says($fields, '');
        self::assertSame([[], []], $this->tabsOfFrames());
        self::assertNotSame($frame, $other);
    }

    public function testTheShootAndEveryPageAreToldOfThem(): void
    {
        [$first] = $this->filed(1);
        $this->make('Quay');
        $this->judge(['frames' => [$first], 'tabs' => [1]]);
        $frames = json_decode((string) $this->request('GET', '/api/shoots/1/frames')->getContent(), true);
        self::assertIsArray($frames);
        self::assertIsArray($frames['frames']);
        self::assertSame([[1]], array_column($frames['frames'], 'tabs'));
        $told = $this->database()->fetchAllKeyValue(
            "SELECT DISTINCT ON (topic) topic, payload FROM happening WHERE topic IN ('tabs', 'judged')
                ORDER BY topic, id DESC",
        );
        self::assertSame('[]', $told['tabs'] ?? null);
        self::assertIsString($told['judged'] ?? null);
        self::assertStringContainsString('"tabs": [1]', $told['judged']);
    }

    private function make(string $name, ?string $colour = null, string $writes = 'nothing'): void
    {
        $made = $this->request('POST', '/api/tabs', array_filter(
            ['name' => $name, 'colour' => $colour, 'writes' => $writes],
            static fn (?string $said): bool => null !== $said,
        ));
        self::assertSame(201, $made->getStatusCode());
    }

    /** @return list<mixed> */
    private function tabs(): array
    {
        $answer = json_decode((string) $this->request('GET', '/api/tabs')->getContent(), true);

        return \is_array($answer) && \is_array($answer['tabs']) ? array_values($answer['tabs']) : [];
    }

    /** @return list<mixed> */
    private function tabsOfFrames(): array
    {
        return array_column($this->pass('frames'), 'tabs');
    }

    private function waiting(): mixed
    {
        return $this->database()->fetchOne("SELECT count(*) FROM filed_file WHERE metadata_state = 'waiting'");
    }

    /** @param list<string> $fields */
    private function says(array $fields, string $expected): void
    {
        $this->follow();
        foreach (['shelf', 'twin'] as $place) {
            foreach ($fields as $field) {
                self::assertSame($expected, trim((string) shell_exec(
                    "exiftool -s3 -$field ".escapeshellarg($this->folder.'/'.$place.'/'.$this->tree($place)[0]),
                )), $field);
            }
        }
    }
}
