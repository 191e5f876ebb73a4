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

    public function testThePictureOfTheHouseIsOfThisCode(): void
    {
        exec(escapeshellarg(\PHP_BINARY).' '.escapeshellarg(\dirname(__DIR__, 2).'/docs/house.php').' --check', $_, $exit);
        self::assertSame(0, $exit, 'Draw it anew: php docs/house.php');
    }
}
