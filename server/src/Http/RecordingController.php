<?php

declare(strict_types=1);

namespace Velvet\Server\Http;

use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\Routing\Attribute\Route;
use Velvet\Core\Card\FileKind;
use Velvet\Server\Store\CardContents;

/**
 * Movies and sound as they lie on a card or shelf: the web server sends them, piece by piece as the browser asks for
 * them.
 */
final readonly class RecordingController
{
    /** IANA's media types; what is not named here no browser plays. */
    private const TYPES = [
        'mp4' => 'video/mp4', 'm4v' => 'video/mp4', 'lrv' => 'video/mp4', 'insv' => 'video/mp4', '360' => 'video/mp4',
        'mov' => 'video/quicktime', '3gp' => 'video/3gpp', 'webm' => 'video/webm', 'mkv' => 'video/matroska',
        'wav' => 'audio/wav', 'mp3' => 'audio/mpeg', 'm4a' => 'audio/mp4', 'aac' => 'audio/aac', 'flac' => 'audio/flac',
        'ogg' => 'audio/ogg', 'opus' => 'audio/ogg',
    ];

    public function __construct(private CardContents $contents)
    {
    }

    #[Route('/api/recordings/{fingerprint<[0-9a-f]{32}>}', methods: ['GET'])]
    public function play(string $fingerprint): Response
    {
        foreach ($this->contents->paths($fingerprint) as $path) {
            if (FileKind::ofName(basename($path))->isMovieOrSound() && is_file($path)) {
                return new Response('', 200, [
                    'X-Accel-Redirect' => '/as-it-is'.implode('/', array_map(rawurlencode(...), explode('/', $path))),
                    'Content-Type' => self::TYPES[strtolower(pathinfo($path, \PATHINFO_EXTENSION))]
                        ?? 'application/octet-stream',
                ]);
            }
        }

        return Problems::response(404, 'The card or drive that this recording lies on is not there.');
    }
}
