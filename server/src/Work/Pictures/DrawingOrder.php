<?php

declare(strict_types=1);

namespace Velvet\Server\Work\Pictures;

use Velvet\Core\Capture\PictureMeasures;
use Velvet\Core\Capture\ShownPicture;

/** What a drawing process is asked for. */
final readonly class DrawingOrder
{
    /**
     * Bytes of an encoded picture; what is read from files is smaller, what LibRaw gives is less than that of any
     * sensor.
     */
    private const MOST = 400_000_000;

    /**
     * @param PictureSize|null $size     the JPEG that is wanted, if one is
     * @param bool             $measured whether its grey is wanted, at the size at which pictures are measured
     */
    public function __construct(public ShownPicture $picture, public ?PictureSize $size, public bool $measured)
    {
    }

    /** The long edge, in pixels, from which all that is wanted can be made. */
    public function edge(): int
    {
        return max($this->size->value ?? 0, $this->measured ? PictureMeasures::EDGE : 0);
    }

    /**
     * @param resource $stream
     *
     * @return bool whether the other side took it
     */
    public function write($stream): bool
    {
        $wanted = pack('CCv', $this->picture->turn, (int) $this->measured, $this->size->value ?? 0);

        return Message::write($stream, [$wanted, $this->picture->encoded]);
    }

    /**
     * @param resource $stream
     *
     * @return self|null null where the other side broke off
     */
    public static function read($stream): ?self
    {
        [$wanted, $encoded] = Message::read($stream, 2, self::MOST) ?? ['', ''];
        $wanted = 4 === \strlen($wanted) ? unpack('Cturn/Cmeasured/vsize', $wanted) : false;
        if (false === $wanted) {
            return null;
        }
        \assert(\is_int($wanted['turn']) && \is_int($wanted['size']));

        return new self(
            new ShownPicture($encoded, max(1, min(8, $wanted['turn']))),
            PictureSize::tryFrom($wanted['size']),
            1 === $wanted['measured'],
        );
    }
}
