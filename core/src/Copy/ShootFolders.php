<?php

declare(strict_types=1);

namespace Velvet\Core\Copy;

/** The folders that a style wants in every shoot. Only ever makes folders that are missing. */
final class ShootFolders
{
    /**
     * @param Drives       $drives   that the roots are known to lie on
     * @param list<string> $roots    absolute: the shelf and its twin
     * @param string       $folder   the shoot's, relative to them
     * @param list<string> $skeleton relative to the shoot's folder; empty for itself
     *
     * @return list<string> those that could not be made, or would not lie on the shelf
     */
    public static function make(Drives $drives, array $roots, string $folder, array $skeleton): array
    {
        $failed = [];
        foreach ($roots as $root) {
            foreach ($skeleton as $path) {
                $wanted = rtrim($root.'/'.$folder.'/'.$path, '/');
                try {
                    $drives->grounds([$root => $wanted])[$wanted]->mustHold($wanted);
                } catch (DriveGone|LeadsAway) {
                    $failed[] = $wanted;
                    continue;
                }
                if (!is_dir($wanted) && !@mkdir($wanted, 0o777, true) && !is_dir($wanted)) {
                    $failed[] = $wanted;
                }
            }
        }

        return $failed;
    }
}
