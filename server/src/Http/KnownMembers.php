<?php

declare(strict_types=1);

namespace Velvet\Server\Http;

use Symfony\Component\Config\ConfigCache;
use Symfony\Component\DependencyInjection\Attribute\Autowire;
use Symfony\Component\EventDispatcher\Attribute\AsEventListener;
use Symfony\Component\HttpKernel\Event\RequestEvent;
use Symfony\Component\Yaml\Yaml;

/**
 * A request says nothing that this API does not know: a member that is misspelt, or of another version, would be passed
 * over in silence, and what was meant would not be done. What is known stands in the OpenAPI file alone.
 */
final class KnownMembers
{
    private const DEEPEST = 8;

    /** @var array<mixed>|null the OpenAPI document */
    private ?array $api = null;

    public function __construct(
        #[Autowire('%kernel.project_dir%/openapi.yaml')]
        private readonly string $file,
        #[Autowire('%kernel.cache_dir%')]
        private readonly string $cache,
    ) {
    }

    /** Before anybody looks for what is meant. */
    #[AsEventListener(priority: 12)]
    public function body(RequestEvent $event): void
    {
        $request = $event->getRequest();
        if ('' === $request->getContent() || !str_starts_with($request->getPathInfo(), '/api/')) {
            return;
        }
        $schema = $this->schema($request->getMethod(), $request->getPathInfo());
        $body = json_decode($request->getContent(), true, 16);
        $unknown = null === $schema || !\is_array($body) ? [] : $this->unknown($schema, $body, '');
        if ([] !== $unknown) {
            $event->setResponse(Problems::response(422, \sprintf(
                '“%s” %s not known here. Nothing was changed.',
                implode('”, “', $unknown),
                1 === \count($unknown) ? 'is' : 'are',
            )));
        }
    }

    /** @return array<mixed>|null of the body of an operation; null where it has none in JSON */
    private function schema(string $method, string $path): ?array
    {
        foreach (self::part($this->api(), 'paths') as $template => $item) {
            $expression = preg_replace('/\\\\\{\w+\\\\\}/', '[^/]+', preg_quote((string) $template, '~'));
            if (\is_array($item) && 1 === preg_match('~^'.$expression.'$~', $path)) {
                $body = $this->resolved(self::part(self::part($item, strtolower($method)), 'requestBody'));
                $schema = self::part(self::part(self::part($body, 'content'), 'application/json'), 'schema');

                return [] === $schema ? null : $schema;
            }
        }

        return null;
    }

    /**
     * @param array<mixed> $schema
     * @param array<mixed> $value
     * @param string       $within the members that lead to it, each with a dot behind
     *
     * @return list<string> members that are not in the schema
     */
    private function unknown(array $schema, array $value, string $within): array
    {
        $schema = $this->resolved($schema);
        $ways = self::part($schema, 'oneOf');
        if ([] !== $ways) { // what some way knows is for the one who does it to judge
            $all = array_map(
                fn (mixed $way): array => $this->unknown(\is_array($way) ? $way : [], $value, $within),
                array_values($ways),
            );

            return array_values(array_intersect(...$all));
        }
        $properties = self::part($schema, 'properties');
        if (
            [] === $properties
            || isset($schema['additionalProperties'])
            || substr_count($within, '.') > self::DEEPEST
        ) {
            return [];
        }
        $unknown = [];
        foreach ($value as $member => $inner) {
            $of = self::part($properties, (string) $member);
            if (!\array_key_exists((string) $member, $properties)) {
                $unknown[] = $within.$member;
            } elseif (\is_array($inner)) {
                array_push($unknown, ...$this->unknown($of, $inner, $within.$member.'.'));
            }
        }

        return $unknown;
    }

    /**
     * @param array<mixed> $part
     *
     * @return array<mixed> what it refers to, where it refers to another part of the document
     */
    private function resolved(array $part): array
    {
        $reference = $part['$ref'] ?? null;
        if (!\is_string($reference) || !str_starts_with($reference, '#/')) {
            return $part;
        }
        $found = $this->api();
        foreach (explode('/', substr($reference, 2)) as $step) {
            $found = self::part($found, $step);
        }

        return $this->resolved($found);
    }

    /** @return array<mixed> */
    private function api(): array
    {
        if (null === $this->api) {
            // reading YAML takes longer than most requests; another version of it has another time
            $kept = new ConfigCache(\sprintf('%s/openapi.%d.php', $this->cache, (int) filemtime($this->file)), false);
            if (!$kept->isFresh()) {
                $kept->write('<?php return '.var_export(Yaml::parseFile($this->file), true).';');
            }
            $api = require $kept->getPath();
            $this->api = \is_array($api) ? $api : [];
        }

        return $this->api;
    }

    /**
     * @param array<mixed> $whole
     *
     * @return array<mixed> empty where there is none
     */
    private static function part(array $whole, string $name): array
    {
        return \is_array($whole[$name] ?? null) ? $whole[$name] : [];
    }
}
