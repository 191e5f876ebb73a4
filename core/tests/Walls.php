<?php

declare(strict_types=1);

namespace Velvet\Core\Tests;

use PHPat\Selector\Selector;
use PHPat\Test\Builder\Rule;
use PHPat\Test\PHPat;
use Velvet\Server\Refusal;

/** The walls of the house (docs/ARCHITECTURE.md), read from the imports by PHPStan's run. */
final class Walls
{
    /** The folders of the core; each uses only those before it. */
    private const CORE = [
        'Bytes', 'Drive', 'Card', 'Capture', 'Shoot', 'Naming', 'Metadata', 'Keyword', 'Style', 'Plan', 'Copy', 'Dng',
        'Filed', 'Ledger',
    ];

    /** @return iterable<string, Rule> */
    public function testEachFolderOfTheCoreUsesOnlyThoseBeforeIt(): iterable
    {
        foreach (self::CORE as $n => $folder) {
            $allowed = array_map(
                static fn (string $one): object => Selector::inNamespace('Velvet\Core\\'.$one),
                \array_slice(self::CORE, 0, $n + 1),
            );
            yield $folder => PHPat::rule()
                ->classes(Selector::inNamespace('Velvet\Core\\'.$folder))
                ->canOnly()->dependOn()
                ->classes(...$allowed)
                ->because('data flow one way, and the core knows of no framework, database, request or browser');
        }
    }

    public function testTheStoreUsesNoneOfTheServersOtherFolders(): Rule
    {
        return PHPat::rule()
            ->classes(Selector::inNamespace('Velvet\Server\Store'))
            ->shouldNot()->dependOn()
            ->classes(Selector::inNamespace('Velvet\Server'))
            ->excluding(Selector::inNamespace('Velvet\Server\Store'), Selector::classname(Refusal::class))
            ->because('what stands in the database is known without whoever works with it');
    }
}
