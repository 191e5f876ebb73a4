<?php

declare(strict_types=1);

namespace Velvet\Server\Tests;

use Opis\JsonSchema\Errors\ErrorFormatter;
use Opis\JsonSchema\Validator;
use Random\Engine\Mt19937;
use Random\Randomizer;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\Yaml\Yaml;
use Velvet\Server\Kernel;
use Velvet\Server\Work\Backup\Backups;

/**
 * Every operation of the OpenAPI file is sent requests that are generated from it, valid and not, under a fixed seed:
 * no answer may be of 5xx, each must be what the file declares, by its status, type and schema, and what is refused is
 * a problem document (RFC 9457). While the home is full or the database is down, that is what is answered, and nothing
 * else.
 */
final class GeneratedRequestsTest extends ServerTestCase
{
    private const EACH = 60;
    private const EACH_IN_NEED = 10;
    private const METHODS = ['get', 'post', 'put', 'patch', 'delete'];
    /** Sent to by another program than this. */
    private const ELSEWHERE = ['/api/events'];

    private Randomizer $random;
    /** @var array<mixed> */
    private array $api;
    private Validator $validator;
    /** @var array<string, object> */
    private array $schemas = [];

    protected function setUp(): void
    {
        parent::setUp();
        $api = Yaml::parseFile(\dirname(__DIR__).'/openapi.yaml');
        self::assertIsArray($api);
        $this->api = $api;
        $this->validator = new Validator();
        $seed = getenv('VELVET_SEED');
        $this->random = new Randomizer(new Mt19937(false === $seed ? 15 : (int) $seed));
        $this->shot('DCIM/100/T0001.JPG', '2026:05:02 19:31:40');
        $this->shot('DCIM/100/T0002.JPG', '2026:05:02 19:31:41');
        $this->takeIn();
        $this->shot('DCIM/100/T0003.JPG', '2026:05:03 19:31:41');
        $this->sheet('Kiln opening'); // a second one, still open
        $this->get(Backups::class)->last();
    }

    public function testNoAnswerIsADefect(): void
    {
        $counts = $this->answers(self::EACH, []);
        $all = array_sum($counts);
        $of = static fn (int $hundreds): int => array_sum(
            array_filter(
                $counts,
                static fn (int $status): bool => intdiv($status, 100) === $hundreds,
                \ARRAY_FILTER_USE_KEY,
            ),
        );
        self::assertGreaterThan($all / 10, $of(2), 'a good part of them was valid');
        self::assertGreaterThan($all / 10, $of(4), 'and another was not');
    }

    /** Whatever would be entered is refused by the database as it is when its disk is full. */
    public function testWhileTheHomeIsFull(): void
    {
        $this->database()->executeStatement(<<<'SQL'
            CREATE FUNCTION test_no_room() RETURNS trigger LANGUAGE plpgsql AS $$ BEGIN
                RAISE EXCEPTION USING ERRCODE = '53100', MESSAGE = 'could not extend file: No space left on device';
            END $$;
            DO $$ DECLARE name text; BEGIN
                FOR name IN SELECT tablename FROM pg_tables WHERE schemaname = 'public' LOOP
                    EXECUTE format('CREATE TRIGGER test_no_room BEFORE INSERT OR UPDATE ON %I
                        FOR EACH STATEMENT EXECUTE FUNCTION test_no_room()', name);
                END LOOP;
            END $$;
            SQL);
        try {
            $counts = $this->answers(self::EACH_IN_NEED, [507]);
        } finally {
            $this->database()->executeStatement('DROP FUNCTION test_no_room() CASCADE');
        }
        self::assertGreaterThan(array_sum($counts) / 30, $counts[507] ?? 0, 'a good part of them had to be entered');
        self::assertGreaterThan(array_sum($counts) / 20, $counts[200] ?? 0, 'what is only read is answered');
    }

    public function testWhileTheDatabaseIsDown(): void
    {
        $url = $_SERVER['VELVET_DATABASE'];
        self::ensureKernelShutdown();
        $nowhere = 'postgresql://velvet:x@localhost/velvet?host=%2Fnowhere&charset=utf8';
        $_SERVER['VELVET_DATABASE'] = $_ENV['VELVET_DATABASE'] = $nowhere;
        try {
            self::bootKernel();
            $counts = $this->answers(self::EACH_IN_NEED, [503]);
        } finally {
            self::ensureKernelShutdown();
            $_SERVER['VELVET_DATABASE'] = $_ENV['VELVET_DATABASE'] = $url;
            self::bootKernel();
        }
        self::assertGreaterThan(array_sum($counts) / 2, $counts[503] ?? 0, 'most of them need it');
    }

    /**
     * @param int       $each    requests for each operation
     * @param list<int> $allowed statuses of 5xx that are right just now
     *
     * @return array<int, int> how often each status was answered
     */
    private function answers(int $each, array $allowed): array
    {
        $sent = [];
        $wrong = [];
        $paths = $this->api['paths'];
        self::assertIsArray($paths);
        for ($n = 0; $n < $each; ++$n) {
            foreach ($paths as $path => $item) {
                foreach (array_intersect(self::METHODS, array_keys((array) $item)) as $method) {
                    \assert(\is_array($item) && \is_string($path) && \is_array($item[$method]));
                    if (\in_array($path, self::ELSEWHERE, true)) {
                        continue;
                    }
                    $operation = $item[$method];
                    $parameters = array_values(array_map(
                        $this->resolved(...),
                        [...(array) ($item['parameters'] ?? []), ...(array) ($operation['parameters'] ?? [])],
                    ));
                    $uri = $this->uri($path, $parameters);
                    $body = isset($operation['requestBody']) ? $this->body($operation['requestBody']) : null;
                    $response = $this->send(strtoupper($method), $uri, $body);
                    $sent[] = $response->getStatusCode();
                    $why = $this->wrong($response, (array) ($operation['responses'] ?? []), $allowed);
                    if (null !== $why) {
                        $wrong[] = \sprintf(
                            '%s %s %s: %s',
                            strtoupper($method),
                            $uri,
                            substr((string) $body, 0, 300),
                            $why,
                        );
                    }
                }
            }
        }
        self::assertSame([], $wrong, \sprintf('%d of %d', \count($wrong), \count($sent)));

        return array_count_values($sent);
    }

    /**
     * @param array<mixed> $declared
     * @param list<int>    $allowed
     */
    private function wrong(Response $response, array $declared, array $allowed): ?string
    {
        $status = $response->getStatusCode();
        if ($status >= 500 && !\in_array($status, $allowed, true)) {
            return $status.' '.$response->getContent();
        }
        if ($status >= 400) {
            return $this->isOf($response, ['application/problem+json' => ['schema' => $this->schema('Problem')]]);
        }
        if (!isset($declared[$status])) {
            return $status.' is not declared';
        }
        $content = $this->resolved($declared[$status])['content'] ?? [];
        if ([] === $content) {
            return '' === $response->getContent() ? null : $status.' was to be empty';
        }

        return $this->isOf($response, (array) $content);
    }

    /**
     * @param array<mixed> $content by type, as an OpenAPI file declares it
     *
     * @return string|null why it is none of it
     */
    private function isOf(Response $response, array $content): ?string
    {
        $type = explode(';', $response->headers->get('Content-Type') ?? '')[0];
        $declared = $content[$type] ?? null;
        if (!\is_array($declared)) {
            return \sprintf('%d: %s is not declared', $response->getStatusCode(), $type);
        }
        if (!str_ends_with($type, 'json')) {
            return null;
        }
        $data = json_decode((string) $response->getContent());
        $result = $this->validator->validate($data, $this->validated($declared['schema'] ?? []));
        $error = $result->error();

        return null === $error ? null : \sprintf(
            '%d is not what was declared: %s',
            $response->getStatusCode(),
            json_encode((new ErrorFormatter())->format($error), \JSON_THROW_ON_ERROR),
        );
    }

    /** A schema of the file, with those that it names. */
    private function validated(mixed $schema): object
    {
        $key = md5(serialize($schema));
        if (!isset($this->schemas[$key])) {
            $root = json_decode(json_encode([
                '$schema' => 'https://json-schema.org/draft/2020-12/schema', '$id' => 'velvet://api/'.$key,
                'allOf' => [$schema], 'components' => $this->api['components'],
            ], \JSON_THROW_ON_ERROR));
            \assert($root instanceof \stdClass);
            $this->schemas[$key] = $root;
        }

        return $this->schemas[$key];
    }

    /** @param list<array<mixed>> $parameters */
    private function uri(string $path, array $parameters): string
    {
        $query = [];
        foreach ($parameters as $parameter) {
            $name = \is_string($parameter['name'] ?? null) ? $parameter['name'] : '';
            $value = $this->parameter((array) ($parameter['schema'] ?? []));
            if ('path' === ($parameter['in'] ?? null)) {
                $path = str_replace('{'.$name.'}', rawurlencode($value), $path);
            } elseif (0 === $this->random->getInt(0, 1)) {
                $query[] = $name.'='.rawurlencode($value);
            }
        }

        return $path.([] === $query ? '' : '?'.implode('&', $query));
    }

    /** @param array<mixed> $schema */
    private function parameter(array $schema): string
    {
        if (isset($schema['enum']) && \is_array($schema['enum']) && 0 !== $this->random->getInt(0, 4)) {
            $value = $this->one($schema['enum']);

            return \is_scalar($value) ? (string) $value : '';
        }
        $isNumber = 'integer' === ($schema['type'] ?? null);
        if ($isNumber && 0 !== $this->random->getInt(0, 2)) {
            return (string) $this->random->getInt(0, 3);
        }
        $value = $this->one($isNumber
            ? [
                '-1', '0', '2147483647', '2147483648', '9223372036854775807', '9223372036854775808', '1e3',
                '00000000000000000001', '1.5', 'x', '%',
            ]
            : [
                'Standard',
                'standard',
                'Kiln',
                'jpeg',
                '/',
                '..',
                "a\0b",
                "\xFF\xFE",
                'ü“€',
                str_repeat('x', 3000),
                "'; --",
                ' ',
                '{}',
                'é',
            ]);

        return \is_string($value) ? $value : '';
    }

    private function body(mixed $body): string
    {
        $body = $this->resolved($body);
        $content = (array) ($body['content'] ?? []);
        $type = (array) ($content['application/json'] ?? []);
        if ([] === $type || 0 === $this->random->getInt(0, 9)) {
            $raw = $this->one(
                [
                    '',
                    'null',
                    '[]',
                    '{',
                    '"text"',
                    '[1,2]',
                    "\xFF",
                    "a\0b",
                    "Places\n\tQuay\n",
                    str_repeat('[', 40),
                    '{"a":'.str_repeat('9', 400).'}',
                ],
            );

            return \is_string($raw) ? $raw : '';
        }

        return (string) json_encode(
            $this->value($type['schema'] ?? [], 0),
            \JSON_INVALID_UTF8_SUBSTITUTE | \JSON_PARTIAL_OUTPUT_ON_ERROR,
        );
    }

    /** A value of a schema, or in one of ten cases of none. */
    private function value(mixed $schema, int $depth): mixed
    {
        $schema = $this->resolved($schema);
        if ($depth > 6 || 0 === $this->random->getInt(0, 11)) {
            return $this->one(
                [
                    null,
                    true,
                    -1,
                    0,
                    1.5,
                    2_147_483_648,
                    \PHP_INT_MAX,
                    '',
                    "a\0b",
                    'x',
                    str_repeat('ü', 5000),
                    [],
                    [[]],
                    new \stdClass(),
                    "\u{202E}",
                    'CON',
                    '../..',
                ],
            );
        }
        if (isset($schema['enum']) && \is_array($schema['enum'])) {
            return $this->one($schema['enum']);
        }
        if (\array_key_exists('const', $schema)) {
            return $schema['const'];
        }
        foreach (['oneOf', 'anyOf'] as $choice) {
            if (isset($schema[$choice]) && \is_array($schema[$choice])) {
                return $this->value($this->one($schema[$choice]), $depth + 1);
            }
        }
        $type = $schema['type'] ?? 'object';
        $type = \is_array($type) ? $this->one($type) : $type;

        return match ($type) {
            'string' => $this->one(
                [
                    '',
                    'Kiln opening',
                    'shelf',
                    '04:00',
                    'Lantern Regatta',
                    'ü“€',
                    'a/b',
                    '2026-05-02',
                    str_repeat('y', 300),
                    'copyright',
                    $this->folder.'/shelf',
                    '/tmp',
                ],
            ),
            'integer' => $this->random->getInt(-1, 4),
            'number' => $this->random->getInt(-10, 10) / 4,
            'boolean' => 1 === $this->random->getInt(0, 1),
            'null' => null,
            'array' => array_map(
                fn (): mixed => $this->value($schema['items'] ?? [], $depth + 1),
                array_fill(0, $this->random->getInt(0, 3), 0),
            ),
            default => $this->object($schema, $depth),
        };
    }

    /** @param array<mixed> $schema */
    private function object(array $schema, int $depth): object
    {
        $members = [];
        $required = (array) ($schema['required'] ?? []);
        $properties = (array) ($schema['properties'] ?? []);
        foreach ((array) ($schema['allOf'] ?? []) as $part) {
            $properties += (array) ($this->resolved($part)['properties'] ?? []);
        }
        foreach ($properties as $name => $property) {
            if ($this->random->getInt(0, 19) < (\in_array($name, $required, true) ? 19 : 8)) {
                $members[(string) $name] = $this->value($property, $depth + 1);
            }
        }

        return (object) $members;
    }

    private function send(string $method, string $uri, ?string $body): Response
    {
        self::assertNotNull(self::$kernel);
        $level = ob_get_level();
        try {
            return self::$kernel->handle(Request::create($uri, $method, content: $body));
        } finally {
            while (ob_get_level() > $level) {
                ob_end_clean();
            }
        }
    }

    /** @return array<mixed> */
    private function resolved(mixed $part): array
    {
        \assert(\is_array($part));
        $reference = $part['$ref'] ?? null;
        if (!\is_string($reference)) {
            return $part;
        }
        $at = $this->api;
        foreach (explode('/', substr($reference, 2)) as $name) {
            $at = $at[$name] ?? [];
            \assert(\is_array($at));
        }

        return $this->resolved($at);
    }

    /** @return array<mixed> */
    private function schema(string $name): array
    {
        return $this->resolved(['$ref' => '#/components/schemas/'.$name]);
    }

    /** @param array<mixed> $of */
    private function one(array $of): mixed
    {
        $of = array_values($of);

        return $of[$this->random->getInt(0, \count($of) - 1)] ?? null;
    }

    protected function tearDown(): void
    {
        @unlink(Kernel::home().'/backups/last.json');
        parent::tearDown();
    }
}
