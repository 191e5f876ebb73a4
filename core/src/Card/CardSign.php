<?php

declare(strict_types=1);

namespace Velvet\Core\Card;

/**
 * Whether a folder in a bay is a card: it has the DCIM folder of DCF 2.0 or one of those that movie cameras make
 * (common practice), or pictures lie at its top. Looks no deeper.
 */
final class CardSign
{
    private const MOST_NAMES = 2000;
    private const OF_MOVIES = ['PRIVATE/M4ROOT', 'XDROOT', 'PRIVATE/AVCHD', 'AVCHD'];

    public static function isOn(string $root): bool
    {
        foreach (self::OF_MOVIES as $movies) {
            if (is_dir($root.'/'.$movies)) {
                return true;
            }
        }
        $folder = @opendir($root);
        if (false === $folder) {
            return false;
        }
        $found = false;
        for ($n = 0; $n < self::MOST_NAMES && false !== ($name = readdir($folder)); ++$n) {
            if ('dcim' === strtolower($name) || ('.' !== $name[0] && FileKind::ofName($name)->isStill())) {
                $found = true;
                break;
            }
        }
        closedir($folder);

        return $found;
    }
}
