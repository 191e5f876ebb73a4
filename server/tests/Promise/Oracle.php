<?php

declare(strict_types=1);

namespace Velvet\Server\Tests\Promise;

use Velvet\Server\Store\Shelf;
use Velvet\Server\Tests\TestDrives;

/**
 * Knows what is true, by reading: every byte on the card in the bay, and every byte below the shelf's folder and its
 * twin's. It knows nothing of the program's records.
 */
final class Oracle
{
    /** What is on every card of this model for the camera itself (the published list, by hand). */
    private const HOUSEKEEPING = ['MISC/AUTPRINT.MRK', '.DS_Store'];

    /** @var array<string, true> digests of contents that were let go of */
    private array $letGo = [];
    /** @var array<string, true> cards for which one drive was said to be enough */
    private array $oneDrive = [];

    public function __construct(private readonly string $folder)
    {
    }

    public function letGo(string $path): void
    {
        $this->letGo[(string) md5_file($path)] = true;
    }

    public function oneDriveIsEnough(string $card): void
    {
        $this->oneDrive[$card] = true;
    }

    /** @return string what is wrong with calling the card in the bay cleared; empty where nothing is */
    public function against(?string $card, Shelf $shelf): string
    {
        if (null === $card) {
            return 'there is no card';
        }
        $roots = array_values(
            array_filter(
                [$shelf->root, $shelf->twinRoot],
                static fn (?string $root): bool => null !== $root && is_dir($root),
            ),
        );
        $places = [];
        foreach ($roots as $root) {
            foreach (self::files($root) as $path) {
                $stat = stat($path);
                \assert(false !== $stat);
                $drive = (new TestDrives())->holding($root)->id ?? '';
                $places[(string) md5_file($path)][$stat['dev'].':'.$stat['ino']] = $drive;
            }
        }
        foreach (self::files($this->folder.'/bay/CARD') as $path) {
            $name = substr($path, \strlen($this->folder.'/bay/CARD/'));
            $content = (string) md5_file($path);
            if (
                isset($this->letGo[$content])
                || (\in_array($name, self::HOUSEKEEPING, true) && !str_starts_with(
                    (string) file_get_contents($path),
                    "\xFF\xD8",
                ))
            ) {
                continue;
            }
            $copies = $places[$content] ?? [];
            if (\count($copies) < 2) {
                return \sprintf('%s is in %d places', $name, \count($copies));
            }
            if (1 === \count(array_unique($copies)) && !isset($this->oneDrive[$card])) {
                return $name.' is on one drive';
            }
        }

        return '';
    }

    /** @return list<string> absolute paths of all files below, hidden ones too; links are none */
    public static function files(string $root): array
    {
        $files = [];
        foreach (is_dir($root) ? (array) scandir($root) : [] as $name) {
            $path = $root.'/'.$name;
            if ('.' === $name || '..' === $name || is_link($path)) {
                continue;
            }
            is_dir($path) ? array_push($files, ...self::files($path)) : $files[] = $path;
        }

        return $files;
    }
}
