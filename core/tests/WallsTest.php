<?php

declare(strict_types=1);

namespace Velvet\Core\Tests;

use PHPUnit\Framework\TestCase;

/** The core knows nothing of frameworks, databases, HTTP or the server (docs/ARCHITECTURE.md). */
final class WallsTest extends TestCase
{
    public function testCoreImportsOnlyItself(): void
    {
        $files = new \RegexIterator(new \RecursiveIteratorIterator(new \RecursiveDirectoryIterator(\dirname(__DIR__).'/src')), '/\.php$/');
        $strangers = [];
        $read = 0;
        foreach ($files as $file) {
            \assert($file instanceof \SplFileInfo);
            ++$read;
            $code = (string) file_get_contents($file->getPathname());
            preg_match_all('/^use (?:function |const )?([\w\\\\]+)|\\\\((?:Symfony|Doctrine|Psr|Monolog|React|Velvet\\\\Server)\\\\[\w\\\\]+)/m', $code, $matches);
            foreach (array_filter([...$matches[1], ...$matches[2]], static fn (string $name): bool => '' !== $name) as $name) {
                if (!str_starts_with($name, 'Velvet\Core\\')) {
                    $strangers[] = $file->getFilename().': '.$name;
                }
            }
        }
        self::assertGreaterThan(30, $read);
        self::assertSame([], $strangers);
    }

    public function testNothingInTheCoreKnowsOfARequestOrATerminal(): void
    {
        $code = (string) shell_exec('cat $(find '.escapeshellarg(\dirname(__DIR__).'/src').' -name "*.php")');
        self::assertDoesNotMatchRegularExpression('/\$_(SERVER|GET|POST|ENV|SESSION)|\bgetenv\(|\bglobal \$|\becho\b|\bSTDOUT\b/', $code);
    }
}
