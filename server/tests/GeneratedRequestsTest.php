<?php

declare(strict_types=1);

namespace Velvet\Server\Tests;

use Opis\JsonSchema\Validator;
use Random\Engine\Mt19937;
use Random\Randomizer;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\Yaml\Yaml;
use Velvet\Server\Backup\Backups;
use Velvet\Server\Kernel;

/**
 * Every operation of the OpenAPI file is sent requests that are generated from it, valid and not, under a fixed seed: no
 * answer may be of 5xx, each must be one that the file declares, and what is refused is a problem document (RFC 9457).
 */
final class GeneratedRequestsTest extends ServerTestCase
{
    private const EACH = 60;
    private const METHODS = ['get', 'post', 'put', 'patch', 'delete'];
    /** Sent to by another program than this. */
    private const ELSEWHERE = ['/api/events'];

    private Randomizer $random;
    /** @var array<mixed> */
    private array $api;

    protected function setUp(): void
    {
        parent::setUp();
        $api = Yaml::parseFile(\dirname(__DIR__).'/openapi.yaml');
        self::assertIsArray($api);
        $this->api = $api;
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
        $sent = [];
        $wrong = [];
        $paths = $this->api['paths'];
        self::assertIsArray($paths);
        for ($n = 0; $n < self::EACH; ++$n) {
            foreach ($paths as $path => $item) {
                foreach (array_intersect(self::METHODS, array_keys((array) $item)) as $method) {
                    \assert(\is_array($item) && \is_string($path) && \is_array($item[$method]));
                    if (\in_array($path, self::ELSEWHERE, true)) {
                        continue;
                    }
                    $operation = $item[$method];
                    $parameters = array_values(array_map($this->resolved(...), [...(array) ($item['parameters'] ?? []), ...(array) ($operation['parameters'] ?? [])]));
                    $uri = $this->uri($path, $parameters);
                    $body = isset($operation['requestBody']) ? $this->body($operation['requestBody']) : null;
                    $response = $this->send(strtoupper($method), $uri, $body);
                    $sent[] = $response->getStatusCode();
                    $why = $this->wrong($response, (array) ($operation['responses'] ?? []));
                    if (null !== $why) {
                        $wrong[] = \sprintf('%s %s %s: %s', strtoupper($method), $uri, substr((string) $body, 0, 300), $why);
                    }
                }
            }
        }
        self::assertSame([], $wrong, \sprintf('%d of %d', \count($wrong), \count($sent)));
        $counts = array_count_values(array_map(static fn (int $status): int => intdiv($status, 100), $sent));
        self::assertGreaterThan(\count($sent) / 10, $counts[2] ?? 0, 'a good part of them was valid');
        self::assertGreaterThan(\count($sent) / 10, $counts[4] ?? 0, 'and another was not');
    }

    /** @param array<mixed> $declared */
    private function wrong(Response $response, array $declared): ?string
    {
        $status = $response->getStatusCode();
        if ($status >= 500) {
            return $status.' '.$response->getContent();
        }
        if ($status < 400) {
            return isset($declared[$status]) ? null : $status.' is not declared';
        }
        $problem = json_decode((string) $response->getContent());
        $isProblem = 'application/problem+json' === $response->headers->get('Content-Type')
            && (new Validator())->validate($problem, json_encode($this->schema('Problem'), \JSON_THROW_ON_ERROR))->isValid();

        return $isProblem ? null : $status.' is no problem document: '.$response->getContent();
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
            ? ['-1', '0', '2147483647', '2147483648', '9223372036854775807', '9223372036854775808', '1e3', '00000000000000000001', '1.5', 'x', '%']
            : ['Standard', 'standard', 'Kiln', 'jpeg', '/', '..', "a\0b", "\xFF\xFE", 'ü“€', str_repeat('x', 3000), "'; --", ' ', '{}', 'é']);

        return \is_string($value) ? $value : '';
    }

    private function body(mixed $body): string
    {
        $body = $this->resolved($body);
        $content = (array) ($body['content'] ?? []);
        $type = (array) ($content['application/json'] ?? []);
        if ([] === $type || 0 === $this->random->getInt(0, 9)) {
            $raw = $this->one(['', 'null', '[]', '{', '"text"', '[1,2]', "\xFF", "a\0b", "Places\n\tQuay\n", str_repeat('[', 40), '{"a":'.str_repeat('9', 400).'}']);

            return \is_string($raw) ? $raw : '';
        }

        return (string) json_encode($this->value($type['schema'] ?? [], 0), \JSON_INVALID_UTF8_SUBSTITUTE | \JSON_PARTIAL_OUTPUT_ON_ERROR);
    }

    /** A value of a schema, or in one of ten cases of none. */
    private function value(mixed $schema, int $depth): mixed
    {
        $schema = $this->resolved($schema);
        if ($depth > 6 || 0 === $this->random->getInt(0, 11)) {
            return $this->one([null, true, -1, 0, 1.5, 2_147_483_648, \PHP_INT_MAX, '', "a\0b", 'x', str_repeat('ü', 5000), [], [[]], new \stdClass(), "\u{202E}", 'CON', '../..']);
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
            'string' => $this->one(['', 'Kiln opening', 'shelf', '04:00', 'Lantern Regatta', 'ü“€', 'a/b', '2026-05-02', str_repeat('y', 300), 'copyright', $this->folder.'/shelf', '/tmp']),
            'integer' => $this->random->getInt(-1, 4),
            'number' => $this->random->getInt(-10, 10) / 4,
            'boolean' => 1 === $this->random->getInt(0, 1),
            'null' => null,
            'array' => array_map(fn (): mixed => $this->value($schema['items'] ?? [], $depth + 1), array_fill(0, $this->random->getInt(0, 3), 0)),
            default => $this->object($schema, $depth),
        };
    }

    /** @param array<mixed> $schema */
    private function object(array $schema, int $depth): object
    {
        $members = [];
        $required = (array) ($schema['required'] ?? []);
        foreach ((array) ($schema['properties'] ?? []) as $name => $property) {
            if ($this->random->getInt(0, 19) < (\in_array($name, $required, true) ? 19 : 8)) {
                $members[(string) $name] = $this->value($property, $depth + 1);
            }
        }

        return (object) $members;
    }

    private function send(string $method, string $uri, ?string $body): Response
    {
        $this->entities()->clear();
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
