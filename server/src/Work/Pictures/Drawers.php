<?php

declare(strict_types=1);

namespace Velvet\Server\Work\Pictures;

use Symfony\Component\DependencyInjection\Attribute\Autowire;
use Velvet\Core\Capture\ShownPicture;

/**
 * Has pictures drawn by processes that are shut in ({@see Drawer}), as many as there are cores; they wait at a socket,
 * so that nobody waits for one to start. The sizes and limits are theirs.
 */
final readonly class Drawers
{
    /** Seconds: all that stand before this one in the queue may hang, and be given up. */
    private const PATIENCE = 120;

    public function __construct(#[Autowire('%env(VELVET_DRAWERS)%')] private string $socket)
    {
    }

    /**
     * @param PictureSize|null $size     the JPEG that is wanted, if one is
     * @param bool             $measured whether its grey is wanted
     *
     * @throws PictureUndrawable
     */
    public function draw(ShownPicture $picture, ?PictureSize $size, bool $measured): Drawing
    {
        if ('' === $picture->encoded) {
            throw PictureUndrawable::noneInside();
        }
        $stream = @stream_socket_client('unix://'.$this->socket, $number, $why, self::PATIENCE);
        if (false === $stream) {
            throw PictureUndrawable::because('the processes that draw pictures do not run; start Velvet Ledger again');
        }
        stream_set_timeout($stream, self::PATIENCE);
        (new DrawingOrder($picture, $size, $measured))->write($stream);
        $drawing = Drawing::read($stream) ?? throw PictureUndrawable::because(
            'drawing it took too long or too much memory',
        );
        fclose($stream);
        if ('' !== $drawing->refused) {
            throw PictureUndrawable::because($drawing->refused);
        }

        return $drawing;
    }
}
