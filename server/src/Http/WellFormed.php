<?php

declare(strict_types=1);

namespace Velvet\Server\Http;

use Symfony\Component\EventDispatcher\Attribute\AsEventListener;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpKernel\Event\RequestEvent;

/**
 * What no name and no number here can be is refused before anybody computes with it: bytes that are no UTF-8, the
 * character NUL, and numbers that no row has (they are 32 bits wide).
 */
final class WellFormed
{
    private const MOST = 2_147_483_647;

    /** Before the routes are looked up. */
    #[AsEventListener(priority: 64)]
    public function address(RequestEvent $event): void
    {
        $request = $event->getRequest();
        if (!self::isText(rawurldecode($request->getPathInfo())) || !self::areTexts($request->query->all())) {
            $event->setResponse(
                Problems::response(400, 'This address holds characters that no name here has. Nothing was changed.'),
            );
        }
    }

    /** After that. */
    #[AsEventListener(priority: 16)]
    public function numbers(RequestEvent $event): void
    {
        foreach (self::parameters($event->getRequest()) as $value) {
            if (
                1 === preg_match('/^\d{10,}$/', $value)
                && (\strlen(ltrim($value, '0')) > 10 || (int) $value > self::MOST)
            ) {
                $event->setResponse(Problems::response(404, 'There is nothing at this address.'));
            }
        }
    }

    /** Whether a JSON document holds nothing that cannot be kept. */
    public static function isKept(mixed $value): bool
    {
        return match (true) {
            \is_array($value) => [] === array_filter($value, static fn (mixed $item): bool => !self::isKept($item))
                && [] === array_filter(array_keys($value), static fn (int|string $key): bool => !self::isKept($key)),
            \is_string($value) => self::isText($value),
            \is_int($value) => abs($value) <= self::MOST,
            default => true,
        };
    }

    /** @return list<string> */
    private static function parameters(Request $request): array
    {
        $parameters = $request->attributes->get('_route_params');

        return \is_array($parameters) ? array_values(array_filter($parameters, is_string(...))) : [];
    }

    /** @param array<mixed> $values */
    private static function areTexts(array $values): bool
    {
        foreach ($values as $name => $value) {
            if (!self::isText((string) $name) || (\is_string($value) && !self::isText($value))) {
                return false;
            }
        }

        return true;
    }

    private static function isText(string $text): bool
    {
        return !str_contains($text, "\0") && mb_check_encoding($text, 'UTF-8');
    }
}
