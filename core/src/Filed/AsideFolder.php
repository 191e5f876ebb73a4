<?php

declare(strict_types=1);

namespace Velvet\Core\Filed;

use Velvet\Core\Shoot\Day;
use Velvet\Core\Style\SidecarName;

/** Folders into which the files of struck frames go. All paths are relative to a shelf. */
final class AsideFolder
{
    private const ASIDE = ', set aside';
    private const TRASH = 'Trash ';
    /** Bytes of a name that every file system takes (common practice: `NAME_MAX` of Linux). */
    private const MOST = 255;

    /** @param string $folder the shoot's */
    public static function of(string $folder): string
    {
        $above = \dirname($folder);
        $name = mb_strcut(basename($folder), 0, self::MOST - \strlen(self::ASIDE), 'UTF-8');

        return ('.' === $above ? '' : $above.'/').$name.self::ASIDE;
    }

    /**
     * Where a file of a shoot lies when it is set aside: in the same folders as it lay in the shoot.
     *
     * @param string $folder the shoot's
     */
    public static function path(string $folder, string $path): string
    {
        return self::of($folder).'/'.(
            str_starts_with($path, $folder.'/') ? substr($path, \strlen($folder) + 1) : basename($path)
        );
    }

    /** Where a file that was set aside lies when it is thrown away on a day. */
    public static function inTrash(Day $day, string $path): string
    {
        return self::TRASH.$day->text().'/'.$path;
    }

    /**
     * Another path in the same folder.
     *
     * @param int $n from 2
     */
    public static function other(string $path, int $n): string
    {
        $dot = strrpos(basename($path), '.');
        $end = false === $dot || 0 === $dot ? '' : substr(basename($path), $dot);

        return substr($path, 0, \strlen($path) - \strlen($end)).' '.$n.$end;
    }

    /** Where a file's sidecar goes with it. */
    public static function sidecar(string $sidecar, string $from, string $to): string
    {
        foreach (SidecarName::cases() as $naming) {
            if ($sidecar === $naming->of($from)) {
                return $naming->of($to);
            }
        }

        return \dirname($to).'/'.basename($sidecar);
    }
}
