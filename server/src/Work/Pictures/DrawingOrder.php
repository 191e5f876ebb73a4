<?php

declare(strict_types=1);

namespace Velvet\Server\Work\Pictures;

use Velvet\Core\Capture\Orientation;
use Velvet\Core\Capture\PictureMeasures;
use Velvet\Core\Capture\ShownPicture;

/**
 * What a drawing process is asked for. The file that holds the picture is handed over open (unix(7), SCM_RIGHTS): the
 * process itself may open none, and nobody else has to hold the picture in memory.
 */
final readonly class DrawingOrder
{
    /**
     * Bytes of an encoded picture; what is shown of files is smaller, what LibRaw gives is less than that of any
     * sensor.
     */
    private const MOST = 400_000_000;
    /** Of the message: how it is turned, whether it is measured, the size, offset and length; little-endian. */
    private const FORMAT = 'CCvPP';
    private const BYTES = 20;

    /**
     * @param int              $offset   of the picture in the file
     * @param int<1, max>      $length   of the picture, in bytes
     * @param Orientation      $turn     that is to be applied
     * @param PictureSize|null $size     the JPEG that is wanted, if one is
     * @param bool             $measured whether its grey is wanted, at the size at which pictures are measured
     */
    public function __construct(
        public int $offset,
        public int $length,
        public Orientation $turn,
        public ?PictureSize $size,
        public bool $measured,
    ) {
    }

    /** @param Orientation|null $as how it is to be shown; null: as its file says */
    public static function of(ShownPicture $picture, ?PictureSize $size, bool $measured, ?Orientation $as): self
    {
        return new self(
            $picture->range->offset,
            $picture->range->length,
            null === $as ? $picture->turn : $picture->turn->then($picture->shown->undone())->then($as),
            $size,
            $measured,
        );
    }

    /** The long edge, in pixels, from which all that is wanted can be made. */
    public function edge(): int
    {
        return max($this->size->value ?? 0, $this->measured ? PictureMeasures::EDGE : 0);
    }

    /** The long edge, in pixels, up to which it is as good. */
    public function most(): int
    {
        return max($this->size?->most() ?? 0, $this->edge());
    }

    /**
     * @param resource $file that holds the picture
     *
     * @return bool whether the other side took it
     */
    public function send(\Socket $socket, $file): bool
    {
        $message = pack(
            self::FORMAT,
            $this->turn->value,
            (int) $this->measured,
            $this->size->value ?? 0,
            $this->offset,
            $this->length,
        );

        return self::BYTES === @socket_sendmsg($socket, [
            'iov' => [$message],
            'control' => [['level' => \SOL_SOCKET, 'type' => \SCM_RIGHTS, 'data' => [$file]]],
        ], 0);
    }

    /**
     * @return array{self, resource}|null with the file that holds the picture; null where the other side broke off, or
     *     sends nothing of use
     */
    public static function receive(\Socket $socket): ?array
    {
        $message = [
            'name' => [],
            'buffer_size' => self::BYTES,
            'controllen' => socket_cmsg_space(\SOL_SOCKET, \SCM_RIGHTS, 1),
        ];
        if (self::BYTES !== @socket_recvmsg($socket, $message, \MSG_WAITALL)) {
            return null;
        }
        $found = \is_array($message) ? $message : []; // it is filled in its place
        $bytes = \is_array($found['iov'] ?? null) ? $found['iov'][0] ?? null : null;
        $control = \is_array($found['control'] ?? null) ? $found['control'][0] ?? null : null;
        $file = \is_array($control) && \is_array($control['data'] ?? null) ? $control['data'][0] ?? null : null;
        $said = \is_string($bytes) && self::BYTES === \strlen($bytes)
            ? unpack('Cturn/Cmeasured/vsize/Poffset/Plength', $bytes)
            : false;
        if (false === $said || !\is_resource($file)) {
            return null;
        }
        ['turn' => $turn, 'size' => $size, 'offset' => $offset, 'length' => $length] = $said;
        if (
            !\is_int($turn) || !\is_int($size) || !\is_int($offset) || !\is_int($length)
            || $offset < 0 || $length < 1 || $length > self::MOST
        ) {
            return null;
        }
        $order = new self(
            $offset,
            $length,
            Orientation::tryFrom($turn) ?? Orientation::AsStored,
            PictureSize::tryFrom($size),
            1 === $said['measured'],
        );

        return [$order, $file];
    }
}
