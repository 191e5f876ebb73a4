<?php

declare(strict_types=1);

namespace Velvet\Server\Http;

use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\Routing\Attribute\Route;
use Velvet\Core\Capture\Orientation;
use Velvet\Server\Work\Pictures\Pictures;
use Velvet\Server\Work\Pictures\PictureSize;
use Velvet\Server\Work\Pictures\PictureUndrawable;

/** Asked only for pictures that are not drawn yet; the web server sends the drawn ones, this one included. */
final readonly class PictureController
{
    public function __construct(private Pictures $pictures)
    {
    }

    #[Route(
        '/pictures/{size<320|1024|2560|16384>}/{folder<[0-9a-f]{2}>}/{rest<[0-9a-f]{30}(?:-[1-8])?>}.jpg',
        methods: ['GET'],
    )]
    public function draw(int $size, string $folder, string $rest): Response
    {
        $size = PictureSize::from($size);
        [$rest, $as] = [...explode('-', $rest), ''];
        $as = Orientation::tryFrom((int) $as);
        try {
            $this->pictures->draw($size, $folder.$rest, $as);
        } catch (PictureUndrawable $e) {
            return Problems::response(404, $e->getMessage());
        }

        return new Response(
            '',
            200,
            [
                'Content-Type' => 'image/jpeg',
                'X-Accel-Redirect' => '/drawn/'.Pictures::path($size, $folder.$rest, $as),
                'Cache-Control' => 'private, max-age=31536000, immutable',
            ],
        );
    }
}
