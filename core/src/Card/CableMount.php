<?php

declare(strict_types=1);

namespace Velvet\Core\Card;

/**
 * A camera on a cable, as desktops mount it (gvfs): a folder called `gphoto2:host=Maker_Model_Serial` or `mtp:host=…`,
 * in it the camera's storages, of which each is a card. The names are from memory.
 */
final class CableMount
{
    private const NAME = '~^(?:gphoto2|mtp):host=(.+)$~';

    /** @return list<string> absolute paths of the folders that may be cards: itself, or what a mounted camera holds */
    public static function storages(string $folder): array
    {
        if (1 !== preg_match(self::NAME, basename($folder)) || CardSign::isOn($folder)) {
            return [$folder];
        }
        $names = @scandir($folder);
        $storages = array_filter(false === $names ? [] : $names, static fn (string $name): bool => '.' !== $name[0]);

        return array_map(static fn (string $name): string => $folder.'/'.$name, array_values($storages));
    }

    /** What a mounted camera is called, for one of its storages; null where it is none, or has no name but a number. */
    public static function label(string $root): ?string
    {
        foreach ([basename($root), basename(\dirname($root))] as $name) {
            if (1 === preg_match(self::NAME, $name, $part)) {
                $host = trim(str_replace('_', ' ', rawurldecode($part[1])));

                return str_starts_with($host, '[') ? 'camera on a cable' : $host;
            }
        }

        return null;
    }
}
