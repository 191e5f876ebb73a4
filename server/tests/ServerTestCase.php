<?php

declare(strict_types=1);

namespace Velvet\Server\Tests;

use Doctrine\DBAL\Connection;
use Doctrine\ORM\EntityManagerInterface;
use Symfony\Bundle\FrameworkBundle\Test\KernelTestCase;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\Response;
use Velvet\Core\Tests\TemporaryFolder;
use Velvet\Server\Store\Card;
use Velvet\Server\Store\Intake;
use Velvet\Server\Store\Shelf;
use Velvet\Server\Work\Intakes\IntakeRun;
use Velvet\Server\Work\Intakes\Intakes;
use Velvet\Server\Work\Intakes\OnFailure;
use Velvet\Server\Work\Reading\CardReading;
use Velvet\Server\Work\Sheets\SheetEdits;
use Velvet\Server\Work\Sheets\Sheets;
use Velvet\Server\Work\Sheets\Shelves;

/**
 * Runs against the real PostgreSQL that `./velvet test` starts, emptied before each test, and a folder for card and
 * drives.
 */
abstract class ServerTestCase extends KernelTestCase
{
    use TemporaryFolder {
        setUp as private makeFolder;
        tearDown as private removeFolder;
    }

    protected function setUp(): void
    {
        $this->makeFolder();
        [TestDrives::$folder, TestDrives::$as, TestDrives::$isOff] = [$this->folder, [], null];
        self::bootKernel();
        $this->emptyDatabase();
    }

    protected function emptyDatabase(): void
    {
        $tables = $this->database()->fetchFirstColumn(
            "SELECT quote_ident(tablename) FROM pg_tables WHERE schemaname = 'public'
                AND tablename <> 'doctrine_migration_versions'",
        );
        // as a replica the ledger's own trigger, which forbids this, does not fire
        $this->database()->executeStatement(
            'SET session_replication_role = replica; TRUNCATE '.implode(
                ', ',
                array_filter($tables, is_string(...)),
            ).' RESTART IDENTITY CASCADE; SET session_replication_role = DEFAULT',
        );
    }

    protected function tearDown(): void
    {
        parent::tearDown();
        $this->removeFolder();
        restore_exception_handler();
    }

    /**
     * @template T of object
     *
     * @param class-string<T> $class
     *
     * @return T
     */
    protected function get(string $class): object
    {
        $service = self::getContainer()->get($class);
        self::assertInstanceOf($class, $service);

        return $service;
    }

    protected function database(): Connection
    {
        return $this->get(Connection::class);
    }

    protected function entities(): EntityManagerInterface
    {
        return $this->get(EntityManagerInterface::class);
    }

    /** A JPEG with an Exif time, different for each name. */
    protected function shot(string $path, string $time): string
    {
        return $this->file('card/'.$path, Jpeg::of($path, $time));
    }

    /** Reads what lies in a folder of the test's as a card. */
    protected function readCard(string $folder = 'card'): Card
    {
        $root = $this->folder.'/'.$folder;
        $card = $this->entities()->getRepository(Card::class)->findOneBy(['root' => $root]) ?? new Card(
            'folder:'.$root,
            $folder,
            $root,
            new \DateTimeImmutable(),
        );
        $this->entities()->persist($card);
        $this->get(CardReading::class)->read($card);

        return $card;
    }

    protected function shelf(): Shelf
    {
        return $this->get(Shelves::class)->at($this->folder.'/shelf', $this->folder.'/twin', []);
    }

    /** A sheet for the card, all entries named. */
    protected function sheet(string $name = 'Lantern Regatta'): Intake
    {
        $this->shelf();
        $intake = $this->get(Sheets::class)->open([$this->readCard()]);
        foreach ('' === $name ? [] : $intake->entries as $entry) {
            $this->get(SheetEdits::class)->name($intake, $entry->number, ['name' => $name]);
        }

        return $intake;
    }

    /** The whole way: read, name, settle, copy. */
    protected function takeIn(string $name = 'Lantern Regatta'): Intake
    {
        $intake = $this->sheet($name);
        $this->get(Intakes::class)->settle($intake, false);
        $this->get(IntakeRun::class)->run($intake->id(), OnFailure::KeepGoing);

        return $this->again($intake);
    }

    protected function again(Intake $intake): Intake
    {
        $this->entities()->clear();

        return $this->entities()->find(Intake::class, $intake->id()) ?? self::fail('The intake is gone.');
    }

    /** @return list<string> relative paths of all files below, temporary and hidden ones included */
    protected function tree(string $folder): array
    {
        $found = trim((string) shell_exec('cd '.escapeshellarg($this->folder.'/'.$folder).' && find . -type f | sort'));

        return '' === $found
            ? []
            : array_map(static fn (string $path): string => substr($path, 2), explode("\n", $found));
    }

    /**
     * @param array<string, mixed>|null $body
     * @param array<string, string>     $headers
     */
    protected function request(string $method, string $path, ?array $body = null, array $headers = []): Response
    {
        $this->entities()->clear();
        $server = [];
        foreach ($headers as $name => $value) {
            $server['HTTP_'.strtoupper(strtr($name, '-', '_'))] = $value;
        }
        self::assertNotNull(self::$kernel);

        return self::$kernel->handle(
            Request::create(
                $path,
                $method,
                [],
                [],
                [],
                $server,
                null === $body ? null : json_encode($body, \JSON_THROW_ON_ERROR),
            ),
        );
    }
}
