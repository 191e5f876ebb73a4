<?php

declare(strict_types=1);

namespace Velvet\Server\Tests;

use Velvet\Server\Http\LedgerView;
use Velvet\Server\Kernel;
use Velvet\Server\Store\BackupRefused;
use Velvet\Server\Store\Catalogue;
use Velvet\Server\Store\Ledger;
use Velvet\Server\Store\LedgerChain;
use Velvet\Server\Work\Backup\BackupFile;
use Velvet\Server\Work\Backup\Backups;
use Velvet\Server\Work\Backup\KeepBackup;
use Velvet\Server\Work\Backup\Restoring;

/** A backup is made of a real database, checked by restoring it, laid onto every place, and brought back. */
final class BackupTest extends ServerTestCase
{
    protected function tearDown(): void
    {
        foreach ((array) glob(Kernel::home().'/backups/*.velvet-backup') as $path) {
            unlink((string) $path);
        }
        @unlink(Kernel::home().'/backups/last.json');
        $aside = $this->database()->fetchFirstColumn("SELECT datname FROM pg_database WHERE datname LIKE 'velvet\\_%'");
        foreach (array_filter($aside, is_string(...)) as $name) {
            $this->get(Catalogue::class)->drop($name);
        }
        parent::tearDown();
    }

    public function testItIsLaidBesideThePicturesAndToldOnPages(): void
    {
        $this->shot('DCIM/100/T0001.JPG', '2026-05-02 19:31:05');
        $this->takeIn();
        $report = $this->get(Backups::class)->keep();
        self::assertSame([$this->folder.'/shelf', $this->folder.'/twin'], $report->places);
        $name = basename((string) $report->path);
        foreach (['shelf', 'twin'] as $place) {
            self::assertFileEquals((string) $report->path, $this->folder.'/'.$place.'/'.Backups::FOLDER.'/'.$name);
        }
        $answer = json_decode((string) $this->request('GET', '/api/backups')->getContent(), true);
        self::assertIsArray($answer);
        self::assertSame([$report->path, null], [$answer['path'], $answer['failed']]);
        $backup = BackupFile::open((string) $report->path);
        self::assertSame(1, $backup->sum->rows['filed_file']);
        self::assertTrue($backup->sum->chain['whole']);
        // independent of us: tar lists it, pg_restore reads it
        exec(
            'tar -xOf '.escapeshellarg((string) $report->path)
                .' catalogue.dump | /usr/lib/postgresql/15/bin/pg_restore -l',
            $lines,
            $code,
        );
        self::assertSame(0, $code);
        self::assertNotEmpty(preg_grep('/TABLE DATA public filed_file /', $lines));
    }

    /**
     * What a backup has compared, a page need not compute again; what was changed since it was is found by the next.
     */
    public function testSealsAreComputedOnceAndThoseOfLaterLinesEachTime(): void
    {
        $this->shot('DCIM/100/T0001.JPG', '2026-05-02 19:31:05');
        $this->takeIn();
        $view = $this->get(LedgerView::class);
        self::assertNull($view->all()['all_checked_at']);
        $this->get(Backups::class)->make(Kernel::home().'/backups');
        $whole = ['lines' => 3, 'whole' => true, 'broken_at' => null, 'lacks' => []];
        self::assertSame($whole, $view->all()['chain']);
        self::assertIsString($view->all()['all_checked_at']);
        $this->get(Ledger::class)->write('tested', []);
        self::assertSame(['lines' => 4] + $whole, $view->all()['chain']);
        $this->crime("UPDATE ledger_line SET details = '{}' WHERE id = 4");
        self::assertSame(['lines' => 3, 'whole' => false, 'broken_at' => 4, 'lacks' => []], $view->all()['chain']);
        $this->crime("UPDATE ledger_line SET details = '{}' WHERE id = 1");
        self::assertSame(1, $this->get(LedgerChain::class)->check()['broken_at'], 'all of them anew');
        $this->crime('DELETE FROM ledger_line WHERE id = 2');
        self::assertSame(1, $view->all()['chain']['broken_at'], 'it does not begin as it did then');
    }

    /** As before a migration: with what this version of the program will add to the catalogue not there yet. */
    public function testAnOlderHomeIsKeptToo(): void
    {
        $this->database()->executeStatement('ALTER TABLE ledger_check RENAME TO ledger_check_later');
        try {
            self::assertFileExists($this->get(Backups::class)->make(Kernel::home().'/backups')->path);
        } finally {
            $this->database()->executeStatement('ALTER TABLE ledger_check_later RENAME TO ledger_check');
        }
    }

    private function crime(string $sql): void
    {
        $this->database()->executeStatement(
            "SET session_replication_role = replica; $sql; SET session_replication_role = DEFAULT",
        );
    }

    /** One that was killed in the middle leaves nothing for good. */
    public function testWhatAKilledOneLeftGoesWithTheNext(): void
    {
        $folder = Kernel::home().'/backups';
        $backups = $this->get(Backups::class);
        $name = basename($backups->make($folder)->path);
        mkdir($folder.'/.making/styles', recursive: true);
        file_put_contents($folder.'/.making/styles/000.json', '{}');
        file_put_contents(preg_replace('/\d{8}T.*/', '.part', $folder.'/'.$name) ?? '', 'half a backup');
        $this->database()->executeStatement('CREATE DATABASE velvet_scratch');
        $backups->make($folder);
        self::assertSame([], glob($folder.'/{.making,*.part,.*.part}', \GLOB_BRACE));
        self::assertFalse(
            $this->database()->fetchOne("SELECT true FROM pg_database WHERE datname LIKE 'velvet\_scratch%'"),
        );
    }

    public function testAPlaceThatIsAwayDoesWithoutAndIsNamed(): void
    {
        $this->shot('DCIM/100/T0001.JPG', '2026-05-02 19:31:05');
        $this->takeIn();
        rename($this->folder.'/twin', $this->folder.'/twin-away');
        self::assertSame([$this->folder.'/twin'], $this->get(Backups::class)->keep()->withoutIt);
        self::assertDirectoryDoesNotExist($this->folder.'/twin');
    }

    public function testAnIntakeAsksForOne(): void
    {
        $this->shot('DCIM/100/T0001.JPG', '2026-05-02 19:31:05');
        $this->takeIn();
        $transport = self::getContainer()->get('messenger.transport.backups');
        self::assertInstanceOf(\Symfony\Component\Messenger\Transport\InMemory\InMemoryTransport::class, $transport);
        self::assertInstanceOf(KeepBackup::class, $transport->getSent()[0]->getMessage());
    }

    public function testWhatComesBackIsWhatWasThere(): void
    {
        $this->shot('DCIM/100/T0001.JPG', '2026-05-02 19:31:05');
        $this->takeIn();
        $backup = $this->get(Backups::class)->make($this->folder);
        $before = $this->database()->fetchAllAssociative('SELECT * FROM filed_file');
        $this->database()->executeStatement("UPDATE shelf SET name = 'Changed since'");
        try {
            $this->get(Restoring::class)->from($backup, false);
            self::fail('There is a ledger.');
        } catch (BackupRefused $e) {
            self::assertStringContainsString(
                'There is a ledger in this home already. Nothing was changed.',
                $e->getMessage(),
            );
        }
        self::assertSame('Changed since', $this->database()->fetchOne('SELECT name FROM shelf'));
        $aside = $this->get(Restoring::class)->from($backup, true);
        self::assertNotNull($aside);
        self::assertSame('shelf', $this->database()->fetchOne('SELECT name FROM shelf'));
        self::assertSame($before, $this->database()->fetchAllAssociative('SELECT * FROM filed_file'));
        self::assertSame(
            1,
            $this->database()->fetchOne('SELECT count(*) FROM pg_database WHERE datname = ?', [$aside]),
        );
    }

    public function testWhatIsNoBackupOrIsDamagedIsRefused(): void
    {
        $this->shot('DCIM/100/T0001.JPG', '2026-05-02 19:31:05');
        $this->takeIn();
        $path = $this->get(Backups::class)->make($this->folder)->path;
        $whole = (string) file_get_contents($path);
        $at = (int) strpos($whole, 'PGDMP');
        foreach ([
            'other' => 'no tar at all', 'empty' => '', 'cut' => substr($whole, 0, $at + 5000),
            'changed' => substr_replace($whole, 'XXXX', $at + 5000, 4),
            'newer' => str_replace('"version": 1', '"version": 2', $whole),
        ] as $name => $content) {
            file_put_contents($this->folder.'/'.$name, $content);
            try {
                $this->get(Restoring::class)->from(BackupFile::open($this->folder.'/'.$name), true);
                self::fail($name);
            } catch (BackupRefused $e) {
                self::assertStringContainsString('is no backup that can be brought back', $e->getMessage(), $name);
                self::assertStringContainsString('Nothing was changed', $e->getMessage());
            }
        }
        self::assertSame(1, $this->database()->fetchOne('SELECT count(*) FROM filed_file'));
    }
}
