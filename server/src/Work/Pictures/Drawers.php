<?php

declare(strict_types=1);

namespace Velvet\Server\Work\Pictures;

use Symfony\Component\DependencyInjection\Attribute\Autowire;

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
     * @param resource $file that holds the picture
     *
     * @throws PictureUndrawable
     */
    public function draw($file, DrawingOrder $order): Drawing
    {
        $socket = socket_create(\AF_UNIX, \SOCK_STREAM, 0);
        if (false === $socket || !@socket_connect($socket, $this->socket)) {
            throw PictureUndrawable::because('the processes that draw pictures do not run; start Velvet Ledger again');
        }
        foreach ([\SO_RCVTIMEO, \SO_SNDTIMEO] as $patience) {
            socket_set_option($socket, \SOL_SOCKET, $patience, ['sec' => self::PATIENCE, 'usec' => 0]);
        }
        $stream = $order->send($socket, $file) ? socket_export_stream($socket) : false;
        if (false !== $stream) {
            stream_set_timeout($stream, self::PATIENCE);
        }
        $drawing = false === $stream ? null : Drawing::read($stream);
        if (null === $drawing) {
            throw PictureUndrawable::because('drawing it took too long or too much memory');
        }
        if ('' !== $drawing->refused) {
            throw PictureUndrawable::because($drawing->refused);
        }

        return $drawing;
    }
}
