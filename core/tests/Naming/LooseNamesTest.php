<?php

declare(strict_types=1);

namespace Velvet\Core\Tests\Naming;

use PHPUnit\Framework\TestCase;
use Velvet\Core\Naming\LooseNames;

/** Names of files that belong to no frame, on drives that do not tell letter cases apart. */
final class LooseNamesTest extends TestCase
{
    public function testTheyKeepTheirFoldersAndNamesAndNoneIsGivenTwice(): void
    {
        $names = new LooseNames(static fn (string $folder): array => match ($folder) {
            'shoot/other files/LANTERN/MISC' => ['HERON5.SET'],
            'shoot/other files/LANTERN/Misc' => ['later.dat'],
            default => [],
        });
        self::assertSame(
            [
                'shoot/other files/LANTERN/MISC/HERON5-2.SET', 'shoot/other files/LANTERN/MISC/Later.DAT',
                'shoot/other files/LANTERN/Misc/later-2.dat', 'shoot/other files/LANTERN/Misc/heron5-3.set',
                'shoot/other files/LANTERN/notes', 'shoot/other files/LANTERN/notes-2',
                'shoot/other files/LANTERN/hidden/a', 'shoot/other files/LANTERN/_',
            ],
            array_map(
                static fn (string $path): string => $names->next('shoot/other files', 'LANTERN', $path),
                [
                    'MISC/HERON5.SET', 'MISC/Later.DAT', 'Misc/later.dat', 'Misc/heron5.set', 'notes', '.notes',
                    '.hidden/a', '...',
                ],
            ),
        );
        self::assertSame('shoot/other files/a', $names->next('shoot/other files', '', 'a'), 'a card without a label');
    }
}
