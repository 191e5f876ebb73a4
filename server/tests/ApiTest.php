<?php

declare(strict_types=1);

namespace Velvet\Server\Tests;

use Doctrine\DBAL\Driver\Exception as DriverError;
use Doctrine\DBAL\Exception\DriverException;
use Opis\JsonSchema\Errors\ErrorFormatter;
use Opis\JsonSchema\Validator;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\Attributes\TestWith;
use Psr\Log\NullLogger;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\HttpKernel\Event\ExceptionEvent;
use Symfony\Component\HttpKernel\HttpKernelInterface;
use Symfony\Component\Messenger\Exception\TransportException;
use Symfony\Component\Yaml\Yaml;
use Velvet\Core\Tests\Capture\Samples;
use Velvet\Server\Http\Problems;
use Velvet\Server\Http\SheetView;
use Velvet\Server\Store\Card;
use Velvet\Server\Work\Intakes\IntakeRun;
use Velvet\Server\Work\Intakes\OnFailure;

/** Real responses against the OpenAPI file (OpenAPI 3.1, JSON Schema 2020-12; validated by opis/json-schema). */
final class ApiTest extends ServerTestCase
{
    public function testEveryPlaceAnswersAsDescribed(): void
    {
        $this->shot('DCIM/100/T0001.JPG', '2026:05:02 19:31:40');
        $this->shot('DCIM/100/T0002.JPG', '');
        $this->file('card/DCIM/100/T0003.JPG', '');
        $this->shelf();
        $card = $this->readCard();

        $this->answers($this->request('GET', '/api/bays'), 200, 'Bays');
        $opened = $this->request('POST', '/api/sheets', ['cards' => [$card->id()]]);
        self::assertSame(201, $opened->getStatusCode());
        $id = json_decode((string) $opened->getContent(), true, 8, \JSON_THROW_ON_ERROR);
        self::assertIsArray($id);
        self::assertIsInt($id['id']);
        $sheet = '/api/sheets/'.$id['id'];
        self::assertSame(
            $opened->getContent(),
            $this->request('POST', '/api/sheets', ['cards' => [$card->id()]])->getContent(),
            'the open sheet is opened again',
        );

        $view = $this->answers($this->request('GET', $sheet), 200, 'Sheet');
        self::assertIsArray($view['entries']);
        foreach (array_keys($view['entries']) as $n) {
            self::assertIsArray($view['entries'][$n]);
            self::assertIsInt($view['entries'][$n]['frame']);
            $entry = $sheet.'/frames/'.$view['entries'][$n]['frame'].'/entry';
            $this->answers($this->request('PATCH', $entry, ['name' => 'Regatta']), 200, 'Edited');
            $this->answers($this->request('GET', $sheet.'/entries/'.($n + 1).'/frames'), 200, 'SheetFrame', 'frames');
        }
        self::assertSame(200, $this->request('GET', $sheet.'/tape')->getStatusCode());
        $this->answers($this->request('POST', $sheet.'/copy'), 202, 'Sheet');
        $this->get(IntakeRun::class)->run($id['id'], OnFailure::KeepGoing);
        $receipt = $this->answers($this->request('GET', $sheet), 200, 'Sheet');
        self::assertSame('done', $receipt['state']);
        $this->answers($this->request('GET', $sheet.'/entries/1/frames'), 200, 'SheetFrame', 'frames');

        $this->answers($this->request('GET', '/api/shoots'), 200, 'Shoot', 'shoots');
        $this->answers($this->request('GET', '/api/shoots/1'), 200, 'Shoot');
        $this->answers($this->request('GET', '/api/shoots/1/frames'), 200, 'ShootFrame', 'frames');
        self::assertSame(
            ['file_filed'],
            array_column(
                $this->list(
                    $this->answers(
                        $this->request('GET', '/api/frames/1/custody'),
                        200,
                        'CustodyLine',
                        'lines',
                    )['lines'],
                ),
                'event',
            ),
        );
        foreach (['xxh128', 'sha256', 'b2', 'mhl', 'csv', 'json'] as $format) {
            $file = $this->request('GET', $sheet.'/receipt.'.$format);
            self::assertSame(
                [200, 'attachment; filename=intake-1.'.$format],
                [$file->getStatusCode(), $file->headers->get('Content-Disposition')],
            );
        }
        $this->answers($this->request('GET', '/api/ledger'), 200, 'Ledger');
        $this->answers($this->request('GET', '/api/styles'), 200, 'Styles');
    }

    public function testFramesThatAreLeftOutAreLetGoOfByAWord(): void
    {
        $this->shot('DCIM/100/T0001.JPG', '2026:05:02 19:31:40');
        $this->shot('DCIM/100/T0002.JPG', '2026:05:02 19:31:41');
        $intake = $this->sheet();
        $frame = $this->get(SheetView::class)->framesOf($intake, 1, 0, 1)[0]['id'];
        $this->answers(
            $this->request('POST', '/api/sheets/1/edits', ['do' => 'leave_out', 'frames' => [$frame]]),
            200,
            'Edited',
        );
        $this->answers($this->request('POST', '/api/sheets/1/copy'), 202, 'Sheet');
        self::assertSame(409, $this->request('POST', '/api/cards/1/eject')->getStatusCode(), 'not while it is copied');
        $this->get(IntakeRun::class)->run(1, OnFailure::KeepGoing);
        $card = $this->first($this->answers($this->request('GET', '/api/bays'), 200, 'Bays')['cards']);
        self::assertSame([false, 1, ['1 frame was left out and is on this card only.']], $this->answer($card));
        $answer = $this->answers($this->request('POST', '/api/cards/1/let-go'), 200, 'Clearance');
        self::assertSame([1, true, []], [$answer['frames'], $answer['cleared'], $answer['missing']]);
        self::assertContains('left_out_let_go', $this->database()->fetchFirstColumn('SELECT event FROM ledger_line'));
        // one that is left out later is not let go of by that word
        $this->shot('DCIM/100/T0003.JPG', '2026:05:02 19:31:42');
        $again = $this->sheet('');
        $this->answers(
            $this->request('POST', '/api/sheets/2/edits', ['do' => 'take_back', 'frames' => [$frame]]),
            200,
            'Edited',
        );
        $this->answers(
            $this->request('POST', '/api/sheets/2/edits', ['do' => 'leave_out', 'frames' => [$frame]]),
            200,
            'Edited',
        );
        self::assertSame(2, $again->id());
        $card = $this->first($this->answers($this->request('GET', '/api/bays'), 200, 'Bays')['cards']);
        self::assertSame(1, $this->answer($card)[1], 'taken back and left out again, it needs the word again');
        self::assertSame(404, $this->request('POST', '/api/cards/99/let-go')->getStatusCode());
    }

    public function testCardsOfBothSlotsBearWitness(): void
    {
        $this->shot('DCIM/100/T0001.JPG', '2026:05:02 19:31:40');
        $this->shot('DCIM/100/T0002.JPG', '2026:05:02 19:31:41');
        $first = $this->readCard();
        exec('cp -rp '.escapeshellarg($this->folder.'/card').' '.escapeshellarg($this->folder.'/second'));
        $this->file('second/DCIM/100/T0002.JPG', Jpeg::of('another', '2026:05:02 19:31:41'));
        $second = $this->readCard('second');
        $opened = $this->request('POST', '/api/sheets', ['cards' => [$first->id(), $second->id()]]);
        self::assertSame(201, $opened->getStatusCode());
        $pair = $this->first(
            $this->answers($this->request('GET', '/api/sheets/1/witness'), 200, 'Witness', 'pairs')['pairs'],
        );
        self::assertSame(
            [['T0001'], [], [], ['T0002']],
            [$pair['same'], $pair['only_first'], $pair['only_second'], $pair['differs']],
        );
    }

    public function testACardOfTheDemoIsEjectedOntoTheTable(): void
    {
        $bay = getenv('VELVET_HOME').'/demo/bay';
        mkdir($bay.'/EJECTED', 0o755, true);
        @mkdir(getenv('VELVET_HOME').'/demo/tray');
        try {
            $this->shot('DCIM/100/T0001.JPG', '2026:05:02 19:31:40');
            $plain = $this->readCard();
            self::assertSame(
                409,
                $this->request('POST', '/api/cards/'.$plain->id().'/eject')->getStatusCode(),
                'a mere folder is no drive',
            );
            $card = new Card('demo:EJECTED', 'EJECTED', $bay.'/EJECTED', new \DateTimeImmutable());
            $this->entities()->persist($card);
            $this->entities()->flush();
            self::assertSame(204, $this->request('POST', '/api/cards/'.$card->id().'/eject')->getStatusCode());
            self::assertDirectoryExists(getenv('VELVET_HOME').'/demo/tray/EJECTED');
        } finally {
            exec(
                'rm -rf '.escapeshellarg(
                    getenv('VELVET_HOME').'/demo/tray/EJECTED',
                ).' '.escapeshellarg($bay.'/EJECTED'),
            );
        }
    }

    public function testShelvesAreChosenByLooking(): void
    {
        foreach (['shelves/Weddings', 'twins/Weddings', 'locked'] as $folder) {
            mkdir($this->folder.'/'.$folder, 0o755, true);
        }
        $this->shot('DCIM/100/T0001.JPG', '2026:05:02 19:31:40');
        $this->readCard();
        $seen = $this->answers($this->request('GET', '/api/folders?path='.rawurlencode($this->folder)), 200, 'Folders');
        self::assertSame(['card', 'locked', 'shelves', 'twins'], $seen['folders']);
        self::assertNotNull(
            $this->answers($this->request('GET', '/api/folders?path=/nowhere/at/all'), 200, 'Folders')['problem'],
        );
        $add = fn (string $root, ?string $twin): array => [
            $this->request(
                'POST',
                '/api/shelves',
                [
                    'name' => 'Weddings',
                    'root' => $this->folder.'/'.$root,
                    'twin' => null === $twin ? null : $this->folder.'/'.$twin,
                ],
            )->getStatusCode(),
            $root,
        ];
        self::assertSame([422, 'card'], $add('card', null), 'on the card');
        self::assertSame([422, 'shelves'], $add('shelves', 'shelves'), 'its own twin');
        self::assertSame([422, 'shelves'], $add('shelves', 'shelves/Weddings'), 'a twin inside of it');
        self::assertSame([409, 'gone'], $add('gone', null), 'not there');
        self::assertSame([201, 'shelves/Weddings'], $add('shelves/Weddings', 'twins/Weddings'));
        self::assertSame([409, 'shelves/Weddings'], $add('shelves/Weddings', null), 'known already');
        $bays = $this->answers(
            $this->request('PATCH', '/api/shelves/1', ['name' => 'Family', 'twin' => null]),
            200,
            'Bays',
        );
        self::assertStringContainsString('"Family"', json_encode($bays['shelves'], \JSON_THROW_ON_ERROR));
    }

    public function testTheFirstShelfIsThatOfSheetsThatWereOpenedBefore(): void
    {
        foreach (['studio', 'other'] as $folder) {
            mkdir($this->folder.'/'.$folder);
        }
        $this->shot('DCIM/100/T0001.JPG', '2026:05:02 19:31:40');
        $card = $this->readCard();
        self::assertSame(201, $this->request('POST', '/api/sheets', ['cards' => [$card->id()]])->getStatusCode());
        $opened = $this->answers($this->request('GET', '/api/sheets/1'), 200, 'Sheet');
        self::assertSame([null, 'There is no shelf to copy to yet.'], [$opened['shelf'], $opened['waits_for']]);
        foreach (['studio', 'other'] as $folder) {
            $new = ['name' => $folder, 'root' => $this->folder.'/'.$folder, 'twin' => null];
            self::assertSame(201, $this->request('POST', '/api/shelves', $new)->getStatusCode());
            $sheet = $this->answers($this->request('GET', '/api/sheets/1'), 200, 'Sheet');
            self::assertIsArray($sheet['shelf']);
            self::assertSame('studio', $sheet['shelf']['name']);
            self::assertSame('Entry 1 needs a name first.', $sheet['waits_for']);
        }
    }

    public function testErrorsAreProblemDetails(): void // RFC 9457
    {
        $this->shot('DCIM/100/T0001.JPG', '2026:05:02 19:31:40');
        $card = $this->readCard();
        $cases = [
            [404, $this->request('GET', '/api/sheets/99')],
            [404, $this->request('GET', '/api/nothing')],
            [405, $this->request('DELETE', '/api/bays')],
            [422, $this->request('POST', '/api/sheets', ['cards' => 'all'])],
            [422, $this->request('POST', '/api/sheets', ['cards' => []])],
            [404, $this->request('POST', '/api/sheets', ['cards' => [99]])],
            [404, $this->request('POST', '/api/demo/cards/GONE/in')],
            [404, $this->request('POST', '/api/demo/cards/..%2F..%2Fetc/in')],
            [201, $this->request('POST', '/api/sheets', ['cards' => [$card->id()]])],
            [409, $this->request('POST', '/api/sheets/1/copy')],
            [404, $this->request('PATCH', '/api/sheets/1/frames/7/entry', ['name' => 'x'])],
            [422, $this->request('PATCH', '/api/sheets/1/frames/1/entry', ['name' => 5])],
            [409, $this->request('POST', '/api/sheets/1/pause')],
            [404, $this->request('GET', '/pictures/320/ab/'.str_repeat('0', 30).'.jpg')],
        ];
        foreach ($cases as [$status, $response]) {
            self::assertSame($status, $response->getStatusCode(), (string) $response->getContent());
            if ($status >= 400) {
                self::assertSame('application/problem+json', $response->headers->get('Content-Type'));
                $this->answers($response, $status, 'Problem');
            }
        }
    }

    /** PostgreSQL 15, appendix A: 53100 disk_full; the queue wraps what the database says. */
    public function testAFullDiskIsSaid(): void
    {
        $driver = new class('No space left on device', 7) extends \RuntimeException implements DriverError {
            public function getSQLState(): string
            {
                return '53100';
            }
        };
        $kernel = self::$kernel ?? self::fail('There is no kernel.');
        foreach ([
            new DriverException($driver, null),
            new TransportException('', 0, new DriverException($driver, null)),
        ] as $error) {
            $event = new ExceptionEvent(
                $kernel,
                Request::create('/api/backups', 'POST'),
                HttpKernelInterface::MAIN_REQUEST,
                $error,
            );
            (new Problems(new NullLogger()))($event);
            self::assertSame(507, $event->getResponse()?->getStatusCode());
            self::assertStringContainsString('home is full', (string) $event->getResponse()->getContent());
        }
    }

    public function testAnotherSiteCannotStartAnything(): void
    {
        self::assertSame(
            403,
            $this->request(
                'POST',
                '/api/sheets',
                ['cards' => [1]],
                ['Sec-Fetch-Site' => 'cross-site'],
            )->getStatusCode(),
        );
        self::assertSame(
            403,
            $this->request(
                'POST',
                '/api/sheets',
                ['cards' => [1]],
                ['Origin' => 'http://elsewhere.example'],
            )->getStatusCode(),
        );
        self::assertSame(
            404,
            $this->request(
                'POST',
                '/api/sheets',
                ['cards' => [1]],
                ['Origin' => 'http://localhost', 'Sec-Fetch-Site' => 'same-origin'],
            )->getStatusCode(),
        );
    }

    public function testAPictureIsDrawnAndLeftToTheWebServer(): void
    {
        $this->shot('DCIM/100/T0001.JPG', '2026:05:02 19:31:40');
        $this->readCard();
        $picture = $this->database()->fetchOne('SELECT picture FROM card_frame');
        self::assertIsString($picture);
        $response = $this->request('GET', '/pictures/320/'.substr($picture, 0, 2).'/'.substr($picture, 2).'.jpg');
        self::assertSame(200, $response->getStatusCode(), (string) $response->getContent());
        $path = (string) $response->headers->get('X-Accel-Redirect');
        self::assertStringStartsWith('/drawn/pictures/320/', $path);
        $size = getimagesize(getenv('VELVET_HOME').substr($path, \strlen('/drawn')));
        self::assertIsArray($size);
        self::assertSame([24, 16], [$size[0], $size[1]]);
        self::assertSame('', $response->getContent());
    }

    public function testARecordingHasAPictureAndIsSentByTheWebServer(): void
    {
        $movie = $this->file('card/DCIM/100/T 0001.MP4', '');
        exec('ffmpeg -v error -y -f lavfi -i color=red:size=320x180:rate=25:duration=1 '.escapeshellarg($movie));
        $this->readCard();
        $picture = $this->database()->fetchOne('SELECT picture FROM card_frame');
        self::assertIsString($picture);
        $drawn = $this->request('GET', '/pictures/320/'.substr($picture, 0, 2).'/'.substr($picture, 2).'.jpg');
        self::assertSame(200, $drawn->getStatusCode(), (string) $drawn->getContent());
        $sent = $this->request('GET', '/api/recordings/'.$picture);
        self::assertSame(
            [200, '/as-it-is'.str_replace(' ', '%20', $movie), 'video/mp4'],
            [
                $sent->getStatusCode(),
                $sent->headers->get('X-Accel-Redirect'),
                $sent->headers->get('Content-Type'),
            ],
        );
        exec('ffmpeg -v error -f lavfi -i sine=duration=1 '.escapeshellarg($this->folder.'/card/DCIM/100/T0003.WAV'));
        $this->shot('DCIM/100/T0002.JPG', '2026:05:02 19:31:40');
        $this->readCard();
        $sound = $this->database()->fetchOne("SELECT picture FROM card_frame WHERE path LIKE '%.WAV'");
        self::assertIsString($sound);
        $sent = $this->request('GET', '/api/recordings/'.$sound);
        self::assertSame([200, 'audio/wav'], [$sent->getStatusCode(), $sent->headers->get('Content-Type')]);
        $drawn = $this->request('GET', '/pictures/320/'.substr($sound, 0, 2).'/'.substr($sound, 2).'.jpg');
        self::assertSame(200, $drawn->getStatusCode(), (string) $drawn->getContent());
        $still = $this->database()->fetchOne("SELECT picture FROM card_frame WHERE path LIKE '%.JPG'");
        self::assertIsString($still);
        self::assertSame(404, $this->request('GET', '/api/recordings/'.$still)->getStatusCode(), 'recordings alone');
    }

    /** Behind the last frame there are none, however far behind. */
    #[TestWith([false])]
    #[TestWith([true])]
    public function testThereMayBeNoFramesAtAnOffset(bool $copied): void
    {
        $this->shot('DCIM/100/T0001.JPG', '2026:05:02 19:31:40');
        $id = $copied ? $this->takeIn('Lantern Regatta')->id() : $this->sheet()->id();
        foreach ([1, 2 ** 31 - 1, 2 ** 31, 2 ** 40, \PHP_INT_MAX] as $offset) {
            $answer = $this->request('GET', "/api/sheets/$id/entries/1/frames?offset=$offset");
            self::assertSame([200, '{"frames":[]}'], [$answer->getStatusCode(), $answer->getContent()]);
        }
    }

    public function testARawWithoutAPreviewIsDecoded(): void
    {
        $this->file('card/DCIM/100/T0001.TRW', Samples::rawWithoutPreview());
        $this->file('card/DCIM/100/T0002.TRW', "II\x2A\0".random_bytes(5000));
        $this->readCard();
        $found = [];
        foreach (['T0001', 'T0002'] as $name) {
            $picture = $this->database()->fetchOne("SELECT picture FROM card_frame WHERE path LIKE '%$name%'");
            self::assertIsString($picture);
            $found[] = $this->request(
                'GET',
                '/pictures/320/'.substr($picture, 0, 2).'/'.substr($picture, 2).'.jpg',
            )->getStatusCode();
        }
        self::assertSame([200, 404], $found, 'the sound one is drawn, the broken one is told');
    }

    /** @return array<mixed> */
    private function answers(Response $response, int $status, string $schema, ?string $listIn = null): array
    {
        self::assertSame($status, $response->getStatusCode(), (string) $response->getContent());
        $data = json_decode((string) $response->getContent(), false, 64, \JSON_THROW_ON_ERROR);
        self::assertIsObject($data);
        $document = Yaml::parseFile(\dirname(__DIR__).'/openapi.yaml');
        self::assertIsArray($document);
        $validator = new Validator();
        $validator->setMaxErrors(5);
        $items = null === $listIn ? [$data] : get_object_vars($data)[$listIn];
        self::assertIsArray($items);
        self::assertNotSame([], $items);
        $root = json_decode(
            json_encode(
                [
                    '$schema' => 'https://json-schema.org/draft/2020-12/schema',
                    '$id' => 'velvet://api/'.$schema,
                    '$ref' => '#/components/schemas/'.$schema,
                    'components' => $document['components'],
                ],
                \JSON_THROW_ON_ERROR,
            ),
        );
        self::assertIsObject($root);
        foreach ($items as $item) {
            self::assertValid($validator, $item, $root);
        }

        /** @var array<mixed> */
        return json_decode((string) $response->getContent(), true, 64, \JSON_THROW_ON_ERROR);
    }

    private static function assertValid(Validator $validator, mixed $item, object $schema): void
    {
        $error = $validator->validate($item, $schema)->error();
        self::assertNull($error, null === $error ? '' : json_encode(
            (new ErrorFormatter())->format($error),
            \JSON_THROW_ON_ERROR | \JSON_PRETTY_PRINT,
        ));
    }

    /** What the pages hear of a card from its reading to its receipt, and of its files afterwards. */
    public function testWhatIsToldIsAsTheFileDeclares(): void
    {
        $this->shot('DCIM/100/T0001.JPG', '2026:05:02 19:31:40');
        $this->shot('DCIM/100/T0002.JPG', '2026:05:02 19:31:41');
        $intake = $this->sheet('Kiln opening');
        $this->request('POST', '/api/sheets/'.$intake->id().'/edits', ['do' => 'undo']);
        $this->request('POST', '/api/sheets/'.$intake->id().'/edits', ['do' => 'redo']);
        $this->request('POST', '/api/sheets/'.$intake->id().'/copy');
        $this->get(IntakeRun::class)->run($intake->id(), OnFailure::KeepGoing);
        $shoot = $this->database()->fetchOne('SELECT max(id) FROM shoot');
        self::assertIsInt($shoot);
        $this->request('PATCH', '/api/shoots/'.$shoot.'/says', ['rating' => 4]);
        $document = Yaml::parseFile(\dirname(__DIR__).'/openapi.yaml');
        self::assertIsArray($document);
        $told = $this->database()->fetchAllAssociative('SELECT topic, payload FROM happening');
        foreach ($told as ['topic' => $topic, 'payload' => $payload]) {
            self::assertIsString($topic);
            self::assertIsString($payload);
            $schema = json_decode(json_encode([
                '$schema' => 'https://json-schema.org/draft/2020-12/schema',
                '$id' => 'velvet://happening/'.$topic,
                '$ref' => '#/components/schemas/Happenings/properties/'.$topic,
                'components' => $document['components'],
            ], \JSON_THROW_ON_ERROR));
            self::assertIsObject($schema);
            self::assertValid(new Validator(), json_decode($payload), $schema);
        }
        self::assertSame(
            [],
            array_diff(
                ['card', 'sheet', 'intake', 'metadata'],
                array_filter(array_column($told, 'topic'), is_string(...)),
            ),
            'a good part of what there is was told',
        );
    }

    /**
     * @param array<mixed> $card
     *
     * @return array{mixed, mixed, mixed} whether it is cleared, frames left out, and what stands against it
     */
    private function answer(array $card): array
    {
        $clearance = $card['clearance'];
        self::assertIsArray($clearance);

        return [$clearance['cleared'], $clearance['left_out'], $clearance['missing']];
    }

    /** @return list<mixed> */
    private function list(mixed $list): array
    {
        self::assertIsArray($list);

        return array_values($list);
    }

    /** @return array<mixed> */
    private function first(mixed $list): array
    {
        $first = $this->list($list)[0] ?? null;
        self::assertIsArray($first);

        return $first;
    }

    /** @param array<string, mixed> $body */
    #[DataProvider('unknown')]
    public function testAMemberThatNobodyKnowsIsNamedAndNothingIsDone(
        string $method,
        string $path,
        array $body,
        string $named,
    ): void {
        $this->shot('DCIM/100/T0001.JPG', '2026:05:02 19:31:40');
        $this->sheet();
        $before = $this->kept();
        $response = $this->request($method, $path, $body);
        self::assertSame(422, $response->getStatusCode());
        self::assertSame('application/problem+json', $response->headers->get('Content-Type'));
        $problem = json_decode((string) $response->getContent(), true);
        self::assertIsArray($problem);
        self::assertSame($named.' known here. Nothing was changed.', $problem['detail']);
        self::assertSame($before, $this->kept());
    }

    /** @return list<array<string, mixed>> what these requests could change */
    private function kept(): array
    {
        return array_merge(...array_map(
            fn (string $table): array => $this->database()->fetchAllAssociative('SELECT * FROM '.$table),
            ['intake', 'entry', 'entry_frame', 'sheet_step', 'shelf'],
        ));
    }

    /** @return iterable<string, array{string, string, array<string, mixed>, string}> */
    public static function unknown(): iterable
    {
        $said = ['nmae' => 'Quay', 'kind' => 'x'];
        yield 'misspelt' => ['PATCH', '/api/sheets/1/frames/1/entry', $said, '“nmae” is not'];
        yield 'several' => ['PATCH', '/api/sheets/1', ['a' => 1, 'b' => 2], '“a”, “b” are not'];
        yield 'within' => [
            'PATCH',
            '/api/sheets/1',
            ['divide' => ['by' => 'day', 'day_starts' => '04:00', 'break_after' => null, 'colour' => 1]],
            '“colour” is not',
        ];
        yield 'of no way to edit' => [
            'POST',
            '/api/sheets/1/edits',
            ['do' => 'undo', 'twice' => true],
            '“twice” is not',
        ];
        yield 'of a shelf' => [
            'POST',
            '/api/shelves',
            ['name' => 'x', 'root' => '/x', 'third' => '/y'],
            '“third” is not',
        ];
    }
}
