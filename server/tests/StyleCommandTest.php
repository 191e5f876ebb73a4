<?php

declare(strict_types=1);

namespace Velvet\Server\Tests;

use Symfony\Component\Console\Tester\CommandTester;
use Velvet\Core\Style\HouseStyle;
use Velvet\Server\Console\StyleCommand;
use Velvet\Server\Store\Styles;

final class StyleCommandTest extends ServerTestCase
{
    public function testStylesAreListedShownImportedAndExported(): void
    {
        [$status, $listed] = $this->style('list');
        self::assertSame([0, ['styles' => [['name' => 'Standard', 'standard' => true]]]], [$status, $listed]);
        self::assertSame(
            HouseStyle::standard()->toArray(),
            $this->style('show', 'standard')[1],
            'in whatever letter case',
        );
        $file = $this->file(
            'weddings.json',
            json_encode(
                ['name' => 'Weddings', 'initials' => 'IVH'] + HouseStyle::standard()->toArray(),
                \JSON_THROW_ON_ERROR,
            ),
        );
        self::assertSame(0, $this->style('import', $file)[0]);
        self::assertSame('IVH', $this->style('export', 'Weddings')[1]['initials'] ?? null);
        self::assertCount(2, $this->get(Styles::class)->all());
    }

    public function testMistakesAreToldInASentence(): void
    {
        self::assertSame(1, $this->style('show', 'Baroque')[0]);
        self::assertSame(1, $this->style('import', $this->file('broken.json', '{"name": '))[0]);
        self::assertSame(1, $this->style('import', $this->file('empty.json', '{}'))[0]);
        self::assertSame(1, $this->style('import', $this->folder.'/gone.json')[0]);
        self::assertCount(1, $this->get(Styles::class)->all(), 'nothing was taken');
    }

    /** @return array{int, array<mixed>} status and the document on standard output */
    private function style(string $what, ?string $which = null): array
    {
        $tester = new CommandTester($this->get(StyleCommand::class));
        $status = $tester->execute(
            ['what' => $what, 'which' => $which, '--json' => true],
            ['capture_stderr_separately' => true],
        );
        $document = json_decode($tester->getDisplay(), true);

        return [$status, \is_array($document) ? $document : []];
    }
}
