<?php

declare(strict_types=1);

namespace Velvet\Core\Tests;

use PHPat\Selector\Selector;
use PHPat\Test\Builder\Rule;
use PHPat\Test\PHPat;
use Velvet\Server\Store\EntityRows;
use Velvet\Server\Store\JsonRows;
use Velvet\Server\Store\Rows;

/** The walls of the house (docs/ARCHITECTURE.md), read from the imports by PHPStan's run. */
final class Walls
{
    /** The folders of the core; each uses only those before it. */
    public const CORE = [
        'Bytes', 'Drive', 'Card', 'Capture', 'Shoot', 'Naming', 'Metadata', 'Keyword', 'Style', 'Plan', 'Copy', 'Dng',
        'Filed', 'Ledger',
    ];

    /** The folders of the server; each uses only those before it, and the core. */
    private const SERVER = ['Store', 'Work', 'Watch', 'Http', 'Console'];

    /** The folders of the server's work; each uses only those before it, and the store. */
    private const WORK = [
        'Backup', 'Ledger', 'Pictures', 'Keywords', 'Cards', 'Sheets', 'Reading', 'Halts', 'Aside', 'Metadata', 'Dng',
        'Receipts', 'Intakes',
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

    /** @return iterable<string, Rule> */
    public function testEachFolderOfTheServerUsesOnlyThoseBeforeIt(): iterable
    {
        return self::inOrder(
            'Velvet\Server\\',
            self::SERVER,
            'what stands in the database is known without whoever works with it, and work without who asks',
        );
    }

    /** @return iterable<string, Rule> */
    public function testEachFolderOfTheWorkUsesOnlyThoseBeforeIt(): iterable
    {
        return self::inOrder('Velvet\Server\Work\\', self::WORK, 'work follows the frame');
    }

    /**
     * @param non-empty-string $in
     * @param list<string>     $folders
     *
     * @return iterable<string, Rule>
     */
    private static function inOrder(string $in, array $folders, string $why): iterable
    {
        $all = array_map(static fn (string $one): object => Selector::inNamespace($in.$one), $folders);
        foreach (\array_slice($folders, 0, -1) as $n => $folder) {
            yield $folder => PHPat::rule()
                ->classes($all[$n])
                ->shouldNot()->dependOn()
                ->classes(...\array_slice($all, $n + 1))
                ->because($why);
        }
    }

    public function testOnlyTheStoreAsksTheDatabase(): Rule
    {
        $store = 'Velvet\Server\Store';

        return PHPat::rule()
            ->classes(Selector::inNamespace('Velvet\Server'))
            ->excluding(Selector::inNamespace($store), Selector::inNamespace('Velvet\Server\Tests'))
            ->shouldNot()->dependOn()
            ->classes(
                Selector::classname(\Doctrine\DBAL\Connection::class),
                Selector::classname(Rows::class),
                Selector::classname(JsonRows::class),
                Selector::classname(EntityRows::class),
            )
            ->because('SQL stands in one folder');
    }
}
