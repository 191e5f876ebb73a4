<?php

declare(strict_types=1);

namespace Velvet\Server\Bays;

/** The server's folders, to choose a shelf from by looking. Nothing is opened but folders. */
final class Folders
{
    private const MOST = 500;

    /** @return array{path: string, parent: string|null, folders: list<string>, writable: bool, free: int|null, problem: string|null} */
    public static function at(string $path): array
    {
        $real = realpath('' === trim($path) ? '/' : $path);
        $names = false === $real || !is_dir($real) ? false : @scandir($real);
        if (false === $real || false === $names) {
            return ['path' => $path, 'parent' => '/' === $path ? null : \dirname($path), 'folders' => [], 'writable' => false, 'free' => null, 'problem' => \sprintf('The folder “%s” is not there or cannot be opened.', $path)];
        }
        $folders = [];
        foreach ($names as $name) {
            if ('.' !== $name[0] && mb_check_encoding($name, 'UTF-8') && is_dir($real.'/'.$name)) {
                $folders[] = $name;
            }
        }
        natcasesort($folders);
        $free = @disk_free_space($real);

        return [
            'path' => $real, 'parent' => '/' === $real ? null : \dirname($real), 'folders' => \array_slice(array_values($folders), 0, self::MOST),
            'writable' => is_writable($real), 'free' => false === $free ? null : (int) $free, 'problem' => null,
        ];
    }
}
