<?php

declare(strict_types=1);

namespace Velvet\Server\Watch;

/** The server's folders, to choose a shelf from by looking. Nothing is opened but folders. */
final readonly class Folders
{
    private const MOST = 500;

    public function __construct(private DemoFence $fence)
    {
    }

    /**
     * @return array{path: string, parent: string|null, folders: list<string>, writable: bool, free: int|null,
     *     problem: string|null}
     */
    public function at(string $path): array
    {
        $real = realpath(\in_array(trim($path), ['', '/'], true) ? $this->fence->top() : $path);
        $names = false === $real || !is_dir($real) || !$this->fence->holds($real) ? false : @scandir($real);
        if (false === $real || false === $names) {
            return [
                'path' => $path,
                'parent' => $this->fence->holds(\dirname($path)) && '/' !== $path
                    ? \dirname($path)
                    : $this->fence->top(),
                'folders' => [],
                'writable' => false,
                'free' => null,
                'problem' => \sprintf('The folder “%s” is not there or cannot be opened.', $path),
            ];
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
            'path' => $real, 'parent' => $this->fence->top() === $real || '/' === $real ? null : \dirname($real),
            'folders' => \array_slice(array_values($folders), 0, self::MOST),
            'writable' => is_writable($real), 'free' => false === $free ? null : (int) $free, 'problem' => null,
        ];
    }
}
