<?php

declare(strict_types=1);

namespace Velvet\Server\Http;

use Doctrine\DBAL\Exception\ConnectionException;
use Doctrine\DBAL\Exception\DriverException;
use Psr\Log\LoggerInterface;
use Symfony\Component\EventDispatcher\Attribute\AsEventListener;
use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\HttpKernel\Event\ExceptionEvent;
use Symfony\Component\HttpKernel\Exception\HttpExceptionInterface;
use Velvet\Core\Filed\TabRefused;
use Velvet\Core\Keyword\KeywordRefused;
use Velvet\Core\Shoot\ArrangementRefused;
use Velvet\Core\Shoot\NotATimeOfDay;
use Velvet\Core\Style\StyleRefused;
use Velvet\Server\Refusal;

/** Errors as problem details (RFC 9457). What went wrong inside is logged and not told to the browser. */
#[AsEventListener]
final readonly class Problems
{
    public function __construct(private LoggerInterface $logger)
    {
    }

    public function __invoke(ExceptionEvent $event): void
    {
        $error = $event->getThrowable();
        $cause = self::ofDatabase($error);
        [$status, $detail] = match (true) {
            $error instanceof ArrangementRefused, $error instanceof KeywordRefused, $error instanceof StyleRefused,
            $error instanceof NotATimeOfDay, $error instanceof TabRefused => [422, $error->getMessage()],
            $error instanceof Refusal => [$error->status(), $error->getMessage()],
            self::isNoRoom($cause) => [
                507,
                'The disk of Velvet Ledger’s home is full, so this could not be entered in the ledger. Nothing was '
                    .'changed; make room there and try again.',
            ],
            $cause instanceof ConnectionException => [
                503,
                'The ledger’s database does not answer just now. Nothing was changed; a copy that is under way goes '
                    .'on when it is back.',
            ],
            $error instanceof HttpExceptionInterface => [$error->getStatusCode(), self::httpDetail($error)],
            default => [
                500,
                'Something went wrong inside Velvet Ledger. Nothing on your cards was touched; the details are in '
                    .'the log folder of its home.',
            ],
        };
        if (500 === $status) {
            $this->logger->error('Unexpected error: {error}', ['error' => $error->getMessage(), 'exception' => $error]);
        }
        $event->setResponse(self::response($status, $detail));
    }

    /** What the database said, also where others speak for it, as the queue does. */
    private static function ofDatabase(\Throwable $error): ?DriverException
    {
        for ($cause = $error; null !== $cause; $cause = $cause->getPrevious()) {
            if ($cause instanceof DriverException) {
                return $cause;
            }
        }

        return null;
    }

    /** PostgreSQL's error codes: disk full, could not extend or write a file (io_error). */
    private static function isNoRoom(?DriverException $error): bool
    {
        return \in_array($error?->getSQLState(), ['53100', '58030'], true);
    }

    public static function response(int $status, string $detail): JsonResponse
    {
        return new JsonResponse(
            [
                'type' => 'about:blank',
                'title' => JsonResponse::$statusTexts[$status] ?? 'Error',
                'status' => $status,
                'detail' => $detail,
            ],
            $status,
            ['Content-Type' => 'application/problem+json'],
        );
    }

    private static function httpDetail(HttpExceptionInterface $error): string
    {
        return match ($error->getStatusCode()) {
            404 => 'There is nothing at this address.',
            405 => 'This address does not take such a request.',
            default => $error->getMessage(),
        };
    }
}
