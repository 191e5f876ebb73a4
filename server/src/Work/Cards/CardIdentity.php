<?php

declare(strict_types=1);

namespace Velvet\Server\Work\Cards;

use Velvet\Core\Card\CableMount;

/**
 * What tells a card from others when it comes back: the identity of its file system where it has one, else its place.
 */
final readonly class CardIdentity
{
    /**
     * @param string   $id       tells this card from others
     * @param string   $label    of its file system, else the name of its folder
     * @param int|null $capacity bytes that fit on it; null where it is a folder of a larger file system
     */
    private function __construct(public string $id, public string $label, public ?int $capacity)
    {
    }

    public static function of(string $root): self
    {
        $root = rtrim((string) realpath($root), '/');
        $device = BlockDevice::at($root);
        $capacity = null === $device ? false : @disk_total_space($root);
        $id = null === $device ? null : self::linkTo($device, 'by-uuid');

        return new self(
            null === $id ? 'folder:'.$root : 'filesystem:'.$id,
            (null === $device ? null : self::linkTo($device, 'by-label'))
                ?? CableMount::label($root)
                ?? basename($root),
            false === $capacity || $capacity < 1 ? null : (int) $capacity,
        );
    }

    /** The name under which udev lists a device; blanks and the like are written there as \x20. */
    private static function linkTo(string $device, string $by): ?string
    {
        $links = glob('/dev/disk/'.$by.'/*');
        foreach (false === $links ? [] : $links as $link) {
            if (realpath($link) === $device) {
                return stripcslashes(basename($link));
            }
        }

        return null;
    }
}
