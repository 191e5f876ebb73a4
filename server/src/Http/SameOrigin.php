<?php

declare(strict_types=1);

namespace Velvet\Server\Http;

use Symfony\Component\EventDispatcher\Attribute\AsEventListener;
use Symfony\Component\HttpKernel\Event\RequestEvent;

/**
 * Only the application's own pages may ask for changes: browsers say where a request comes from (Fetch Metadata, W3C),
 * and a page elsewhere must not be able to start a copy on this computer.
 */
#[AsEventListener(priority: 100)]
final class SameOrigin
{
    public function __invoke(RequestEvent $event): void
    {
        $request = $event->getRequest();
        if ($request->isMethodSafe()) {
            return;
        }
        $site = $request->headers->get('Sec-Fetch-Site', 'same-origin');
        $origin = $request->headers->get('Origin');
        if ('same-origin' !== $site || (null !== $origin && $origin !== $request->getSchemeAndHttpHost())) {
            $event->setResponse(Problems::response(403, 'This request came from another site. Nothing was changed.'));
        }
    }
}
