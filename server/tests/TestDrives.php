<?php

declare(strict_types=1);

namespace Velvet\Server\Tests;

use Velvet\Core\Drive\Drive;
use Velvet\Core\Drive\DriveTable;
use Velvet\Core\Drive\MountedDrives;
use Velvet\Core\Drive\SimulatedDrives;

/**
 * Each folder right below a test's own folder is taken for a drive of its own: shelf and twin are two, unless the test
 * says otherwise.
 */
final class TestDrives implements DriveTable
{
    /** The variable of the environment that tells the processes which a test starts what {@see self::$folder} is. */
    public const FOLDER = 'VELVET_TEST_DRIVES';

    /** The folder whose subfolders are drives. */
    public static string $folder = '';
    /** @var array<string, string> identities that drives have instead, by their folders; equal ones are one drive */
    public static array $as = [];

    /** @var (\Closure(string): bool)|null whether the drive that holds a path is off at this moment */
    public static ?\Closure $isOff = null;

    /**
     * The drive of this root goes for one look at it, after this has come true.
     *
     * @param int $looks that come before
     */
    public static function goesOnce(string $root, \Closure $hasHappened, int $looks = 0): void
    {
        self::$isOff = static function (string $path) use (&$looks, $root, $hasHappened): bool {
            return $looks >= 0 && $root === $path && true === $hasHappened() && --$looks < 0;
        };
    }

    public function holding(string $path): ?Drive
    {
        if (null !== self::$isOff && (self::$isOff)($path)) {
            return null;
        }
        $folder = '' === self::$folder ? (string) getenv(self::FOLDER) : self::$folder;
        $drive = (new SimulatedDrives(new MountedDrives(), [$folder]))->holding($path);
        $as = null === $drive ? null : self::$as[$drive->point] ?? null;

        return null === $drive || null === $as ? $drive : new Drive($as, $drive->point, $drive->type, [$as]);
    }
}
