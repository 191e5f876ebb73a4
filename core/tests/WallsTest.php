<?php

declare(strict_types=1);

namespace Velvet\Core\Tests;

use PHPUnit\Framework\TestCase;

/** What the imports do not tell; they are read by {@see Walls}. */
final class WallsTest extends TestCase
{
    public function testNothingInTheCoreKnowsOfARequestOrATerminal(): void
    {
        $code = (string) shell_exec('cat $(find '.escapeshellarg(\dirname(__DIR__).'/src').' -name "*.php")');
        self::assertDoesNotMatchRegularExpression(
            '/\$_(SERVER|GET|POST|ENV|SESSION)|\bgetenv\(|\bglobal \$|\becho\b|\bSTDOUT\b/',
            $code,
        );
    }

    /** An import that only a comment seems to use is no dependency to {@see Walls}, but leads its reader astray. */
    public function testNoFolderOfTheCoreImportsFromALaterOne(): void
    {
        $astray = [];
        foreach (Walls::CORE as $n => $folder) {
            $files = glob(\dirname(__DIR__).'/src/'.$folder.'/*.php');
            self::assertIsArray($files);
            foreach ($files as $file) {
                preg_match_all('/^use Velvet\\\\Core\\\\(\w+)\\\\(\w+);/m', (string) file_get_contents($file), $found);
                foreach ($found[1] as $i => $other) {
                    if (array_search($other, Walls::CORE, true) > $n) {
                        $astray[] = basename($file).' imports '.$other.'\\'.$found[2][$i];
                    }
                }
            }
        }
        self::assertSame([], $astray);
    }

    public function testThePictureOfTheHouseIsOfThisCode(): void
    {
        exec(
            escapeshellarg(\PHP_BINARY).' '.escapeshellarg(\dirname(__DIR__, 2).'/docs/house.php').' --check',
            $_,
            $exit,
        );
        self::assertSame(0, $exit, 'Draw it anew: php docs/house.php');
    }
}
