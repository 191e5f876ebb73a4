<?php

declare(strict_types=1);

namespace Velvet\Server\Tests;

use PHPUnit\Framework\TestCase;
use Symfony\Component\Process\Process;

/**
 * `./velvet start` and `stop` on a home of their own, with one shelf in its ledger: whatever is killed, taken or
 * missing, the ledger is there afterwards, or it is said why it cannot be, and nothing was changed. With VELVET_TABLE
 * set, what was said and after how many seconds is printed.
 */
final class StartAndStopTest extends TestCase
{
    /** Not what is called for a moment only, by one of them or by hand. */
    private const WORKERS = '~/bin/(?:draw|console (?:messenger:consume|velvet:(?:events|watch))) ~';
    private const PORT = 8422;
    private static string $folder;
    private static string $home;

    public static function setUpBeforeClass(): void
    {
        self::$folder = sys_get_temp_dir().'/velvet-start-'.getmypid();
        self::$home = self::$folder.'/home';
        mkdir(self::$folder.'/shelf', 0o755, true);
        self::velvet(['shelf', 'Weddings', self::$folder.'/shelf']);
        self::velvet(['start']);
    }

    public static function tearDownAfterClass(): void
    {
        self::velvet(['stop']);
        self::sh('rm -rf '.escapeshellarg(self::$folder));
    }

    protected function setUp(): void
    {
        if (!self::answers()) {
            self::mustSay('Velvet Ledger is at', ['start']);
        }
    }

    public function testWhatAKilledSupervisorLeftIsEndedBeforeItStartsAnew(): void
    {
        // workers come up behind the pages, one after another
        $all = 7 + 2 * max(1, (int) shell_exec('nproc'));
        self::assertTrue(self::await(static fn (): bool => $all === \count(self::processes())));
        $before = self::processes();
        $this->killSupervisor();
        self::assertNotEmpty(self::processes(), 'its children run on');
        self::mustSay('what it left running is ended', ['start'], 'supervisor killed, start');
        self::await(static fn (): bool => $before === self::processes());
        self::assertSame($before, self::processes(), 'each of them once');
        $this->mustBeWhole();
    }

    public function testStopEndsWhatAKilledSupervisorLeft(): void
    {
        $this->killSupervisor();
        self::mustSay('Velvet Ledger is stopped', ['stop'], 'supervisor killed, stop');
        self::assertSame([], self::processes());
    }

    public function testWhatIsKilledIsStartedAgain(): void
    {
        foreach (['nginx: master', 'php-fpm: master', 'bin/postgres -D'] as $what) {
            $since = microtime(true);
            (new Process(['pkill', '-KILL', '-f', $what.'.*'.self::$home]))->mustRun();
            self::assertTrue(self::await(self::answers(...)), $what.' is back');
            self::note($what.' killed', \sprintf('answers again after %.1f s', microtime(true) - $since), $since);
        }
        $this->mustBeWhole();
    }

    /** Installed by one user, run by another one, who may write nothing there. */
    public function testWhoDidNotInstallItHasAHomeOfTheirOwn(): void
    {
        $velvet = \dirname(__DIR__, 2).'/velvet';
        $as = ['setpriv', '--reuid', '65534', '--regid', '65534', '--clear-groups'];
        if (0 !== posix_geteuid() || 0 !== (new Process([...$as, 'test', '-x', $velvet]))->run()) {
            self::markTestSkipped('Nobody else can reach this checkout.');
        }
        $person = self::$folder.'/person';
        mkdir($person.'/shelf', recursive: true);
        self::sh('chmod 755 '.escapeshellarg(self::$folder).' && chown -R 65534 '.escapeshellarg($person));
        $environment = [
            'HOME' => $person, 'XDG_DATA_HOME' => false, 'VELVET_HOME' => false, 'VELVET_PORT' => '8432',
            'APP_ENV' => false, 'APP_DEBUG' => false, 'VELVET_DATABASE' => false, 'PGPASSWORD' => false,
            'VELVET_FENCE' => false,
        ];
        try {
            $call = [...$as, $velvet, 'shelf', 'Theirs', $person.'/shelf'];
            $process = new Process($call, env: $environment, timeout: 120);
            self::assertSame(0, $process->run(), $process->getErrorOutput());
            self::assertStringContainsString('Shelf “Theirs” is at '.$person.'/shelf', $process->getOutput());
            self::assertSame(65534, fileowner($person.'/.local/share/velvet-ledger/db'));
        } finally {
            (new Process([...$as, $velvet, 'stop'], env: $environment))->run();
        }
    }

    public function testARefusalBeforePhpStartsIsJsonToo(): void
    {
        $process = new Process(
            [\dirname(__DIR__, 2).'/velvet', 'card', self::$folder, '--json'],
            env: ['VELVET_HOME' => self::$folder.'/a "file"'],
        );
        touch(self::$folder.'/a "file"');
        self::assertSame(1, $process->run());
        self::assertSame(
            ['refused' => self::$folder.'/a "file" is no folder. Choose another home with VELVET_HOME.'],
            json_decode($process->getOutput(), true, 8, \JSON_THROW_ON_ERROR),
        );
    }

    public function testOneHomeIsOneHome(): void
    {
        $before = self::supervisor();
        self::mustSay('is at http://127.0.0.1:8422/', ['start'], 'start twice');
        self::mustSay('is at http://127.0.0.1:8422/', ['start'], 'another TMPDIR', ['TMPDIR' => self::$folder]);
        symlink(self::$home, self::$folder.'/link');
        self::mustSay(
            'is at http://127.0.0.1:8422/',
            ['start'],
            'home through a link',
            ['VELVET_HOME' => self::$folder.'/link'],
        );
        self::mustRefuse(
            'already runs for this home, at http://127.0.0.1:8422/',
            'another port',
            ['VELVET_PORT' => '8423'],
        );
        self::assertSame($before, self::supervisor());
    }

    public function testTheBaysAreThoseOfTheStartNotOfAQuestionBefore(): void
    {
        self::velvet(['stop']);
        self::velvet(['verify'], ['VELVET_BAYS' => self::$folder.'/elsewhere']);
        self::assertNotSame(0, self::supervisor());
        $asking = new Process(
            ['psql', '-h', self::$home.'/db', '-U', 'velvet', '-d', 'velvet', '-c', 'SELECT pg_sleep(600)'],
            env: ['PGPASSWORD' => trim((string) file_get_contents(self::$home.'/db-password'))],
            timeout: null,
        );
        $asking->start();
        self::assertTrue(self::await(fn (): bool => '1' === $this->ask(
            "SELECT count(*) FROM pg_stat_activity WHERE query = 'SELECT pg_sleep(600)'",
        )));
        self::mustRefuse('A command is at work in this home', 'other bays while a command is at work');
        self::assertTrue($asking->isRunning(), 'it is not broken off');
        $this->ask(
            "SELECT count(pg_terminate_backend(pid)) FROM pg_stat_activity WHERE query = 'SELECT pg_sleep(600)'",
        );
        $asking->stop(0);
        self::assertTrue(self::await(fn (): bool => '1' === $this->ask(
            "SELECT count(*) FROM pg_stat_activity WHERE backend_type = 'client backend'",
        )));
        self::mustSay('is at http://127.0.0.1:8422/', ['start']);
        $bays = (string) shell_exec(\sprintf(
            'curl -s -H %s http://127.0.0.1:%d/api/bays',
            escapeshellarg('Authorization: Bearer '.file_get_contents(self::$home.'/access-key')),
            self::PORT,
        ));
        self::assertStringContainsString(json_encode([self::$folder.'/bays'], \JSON_THROW_ON_ERROR), $bays);
        $this->mustBeWhole();
    }

    public function testAPortThatIsTakenIsTold(): void
    {
        self::mustRefuse(
            'is taken by the Velvet Ledger of another home',
            'port taken by another home',
            ['VELVET_HOME' => self::$folder.'/other'],
        );
        self::velvet(['stop']);
        $stranger = stream_socket_server('tcp://127.0.0.1:'.self::PORT);
        self::assertNotFalse($stranger);
        self::mustRefuse('is taken by another program', 'port taken by a stranger');
        fclose($stranger);
    }

    public function testAFullDiskIsToldBeforeAnythingIsTouched(): void
    {
        $full = self::$folder.'/full';
        mkdir($full);
        if (0 !== posix_getuid() || 0 !== self::sh('mount -t tmpfs -o size=8m tmpfs '.$full)) {
            self::markTestSkipped('Nothing can be mounted here.');
        }
        try {
            self::mustRefuse(
                '8 MB are free, 64 MB are needed. Nothing was changed',
                'home full',
                ['VELVET_HOME' => $full.'/home', 'VELVET_PORT' => '8424'],
            );
        } finally {
            self::sh('umount '.$full);
        }
    }

    public function testALedgerOfANewerVersionIsLeftAlone(): void
    {
        $this->ask(
            "INSERT INTO doctrine_migration_versions (version)
                VALUES ('Velvet\\Server\\Migrations\\Version20991231000001')",
        );
        try {
            rename(self::$home.'/db/velvet-schema', self::$home.'/db/velvet-schema.away');
            self::mustRefuse('was written by a newer Velvet Ledger', 'schema newer');
        } finally {
            $this->ask("DELETE FROM doctrine_migration_versions WHERE version LIKE '%2099%'");
            rename(self::$home.'/db/velvet-schema.away', self::$home.'/db/velvet-schema');
        }
        $this->mustBeWhole();
    }

    /** The first of two migrations succeeds, the second cannot: neither is done. */
    public function testAMigrationThatFailsHalfWayLeavesTheLedgerAsItWas(): void
    {
        $this->ask('DROP INDEX keyword_folded');
        $this->ask("DELETE FROM doctrine_migration_versions WHERE version LIKE '%Version2026112900000_'");
        rename(self::$home.'/db/velvet-schema', self::$home.'/db/velvet-schema.away');
        $left = "SELECT (SELECT count(*) FROM pg_indexes WHERE indexname = 'keyword_folded')
            + (SELECT count(*) FROM doctrine_migration_versions WHERE version LIKE '%Version2026112900000_')";
        try {
            self::mustRefuse('relation "ledger_check" already exists). It is as it was before', 'migration half way');
            self::assertSame('0', $this->ask($left));
        } finally {
            $this->ask('CREATE INDEX IF NOT EXISTS keyword_folded ON keyword (folded)');
            $this->ask(
                "INSERT INTO doctrine_migration_versions (version)
                    SELECT 'Velvet\\Server\\Migrations\\Version2026112900000' || n FROM generate_series(1, 2) AS n
                    ON CONFLICT DO NOTHING",
            );
            rename(self::$home.'/db/velvet-schema.away', self::$home.'/db/velvet-schema');
        }
        $this->mustBeWhole();
    }

    /**
     * Each thing of a home missing in turn: it is made anew, or the start is refused; the ledger is never made anew.
     */
    public function testHalfAHome(): void
    {
        $away = self::$folder.'/away';
        $each = ['stamps', 'etc', 'run', 'log', 'cache', 'pictures', 'access-key', 'backups'];
        foreach ([['db-password'], ...(false === getenv('VELVET_TABLE') ? [$each] : array_chunk($each, 1))] as $names) {
            self::velvet(['stop']);
            mkdir($away);
            foreach ($names as $name) {
                rename(self::$home.'/'.$name, $away.'/'.$name);
            }
            self::mustSay('Velvet Ledger is at', ['start'], implode(', ', $names).' missing');
            $this->mustBeWhole();
            self::sh('rm -rf '.$away);
        }
        foreach (['db', 'db/PG_VERSION', 'db/global/pg_control'] as $name) {
            self::velvet(['stop']);
            rename(self::$home.'/'.$name, $away);
            $before = self::sh('find '.self::$home.'/db | wc -l');
            self::mustRefuse('Nothing was changed', $name.' missing');
            self::assertFileDoesNotExist(self::$home.'/'.$name);
            self::assertSame($before, self::sh('find '.self::$home.'/db | wc -l'));
            rename($away, self::$home.'/'.$name);
            self::mustSay('Velvet Ledger is at', ['start'], $name.' put back');
            $this->mustBeWhole();
        }
    }

    public function testTheDatabasesFolderAloneIsEnough(): void
    {
        self::velvet(['stop']);
        mkdir(self::$folder.'/bare');
        self::sh(\sprintf('cp -r %s/db %s/bare/db', self::$home, self::$folder)); // as root's copy it is root's
        $environment = ['VELVET_HOME' => self::$folder.'/bare', 'VELVET_PORT' => '8423'];
        try {
            self::mustSay('Velvet Ledger is at', ['start'], 'db alone, copied', $environment);
            $this->mustBeWhole($environment);
        } finally {
            self::velvet(['stop'], $environment);
        }
    }

    public function testAPidFileIsNotBelieved(): void
    {
        $stranger = new Process(['sleep', '600']);
        $stranger->start();
        $this->killSupervisor();
        file_put_contents(self::$home.'/run/own/supervisord.pid', (string) $stranger->getPid());
        self::mustSay('stopped', ['stop'], 'pid file names a stranger');
        self::assertTrue($stranger->isRunning());
        $stranger->stop(0);
    }

    public function testWhileTheDatabaseOrThePagesAreDownItIsSaid(): void
    {
        $key = 'Authorization: Bearer '.file_get_contents(self::$home.'/access-key');
        $supervise = static fn (string ...$do): int => (new Process(
            ['supervisorctl', '-c', self::$home.'/etc/supervisord.conf', ...array_values($do)],
        ))->run();
        foreach ([
            'database' => 'The ledger’s database does not answer just now.',
            'pages:php' => 'The pages of Velvet Ledger are just starting, or cannot start.',
        ] as $program => $words) {
            $supervise('stop', $program);
            self::assertSame('503', self::statusOf('api/bays', $key));
            $problem = json_decode(
                (string) shell_exec(
                    \sprintf('curl -s -H %s http://127.0.0.1:%d/api/bays', escapeshellarg($key), self::PORT),
                ),
                true,
            );
            self::assertIsArray($problem);
            self::assertIsString($problem['detail']);
            self::assertSame(503, $problem['status']);
            self::assertStringContainsString($words, $problem['detail']);
            self::assertSame('200', self::statusOf('', $key), 'the page itself is there');
            $supervise('start', $program);
        }
        self::assertTrue(self::await(self::answers(...)));
    }

    public function testNobodyElseGetsIn(): void
    {
        foreach (['', 'api/bays', 'api/events', 'pictures/1', 'mark.svg', 'enter?key=x'] as $page) {
            self::assertSame('403', self::statusOf($page), $page);
        }
        self::assertSame('403', self::statusOf('api/bays', 'Authorization: Bearer '.str_repeat('0', 48)));
        $key = (string) file_get_contents(self::$home.'/access-key');
        self::assertSame('200', self::statusOf('api/bays', 'Authorization: Bearer '.$key));
        $jar = self::$folder.'/cookies';
        $entered = (string) shell_exec(
            \sprintf('curl -si -c %s %s', $jar, escapeshellarg(trim(self::velvet(['address'])[1]))),
        );
        self::assertMatchesRegularExpression(
            '/^Set-Cookie: velvet_8422=[0-9a-f]{64}; Path=\/; HttpOnly; SameSite=Strict\r$/mi',
            $entered,
        );
        self::assertStringNotContainsString($key, $entered);
        self::assertSame(
            '200',
            trim(
                (string) shell_exec(
                    \sprintf('curl -s -o /dev/null -w "%%{http_code}" -b %s http://127.0.0.1:8422/api/bays', $jar),
                ),
            ),
        );
        foreach ([
            'access-key' => '600',
            'db-password' => '600',
            'log' => '700',
            'pictures' => '700',
            'cache' => '700',
            'etc' => '700',
            'backups' => '700',
            'run/own' => '700',
            'db' => '700',
        ] as $name => $mode) {
            self::assertSame($mode, decoct(fileperms(self::$home.'/'.$name) & 0o777), $name);
        }
    }

    private function killSupervisor(): void
    {
        posix_kill(self::supervisor(), \SIGKILL);
        self::await(static fn (): bool => 0 === self::supervisor());
    }

    /** @param array<string, string> $environment */
    private function mustBeWhole(array $environment = []): void
    {
        self::assertSame('Weddings', $this->ask('SELECT name FROM shelf', $environment));
    }

    /** @param array<string, string> $environment */
    private function ask(string $sql, array $environment = []): string
    {
        $home = $environment['VELVET_HOME'] ?? self::$home;
        $process = new Process(
            ['psql', '-h', $home.'/db', '-U', 'velvet', '-d', 'velvet', '-Atqc', $sql],
            env: ['PGPASSWORD' => trim((string) file_get_contents($home.'/db-password'))],
        );
        $process->mustRun();

        return trim($process->getOutput());
    }

    /**
     * @param list<string>          $arguments
     * @param array<string, string> $environment
     */
    private static function mustSay(string $words, array $arguments, string $case = '', array $environment = []): void
    {
        $since = microtime(true);
        [$code, $said] = self::velvet($arguments, $environment);
        self::note($case, $said, $since);
        self::assertStringContainsString($words, $said);
        self::assertSame(0, $code, $said);
    }

    /** @param array<string, string> $environment */
    private static function mustRefuse(string $words, string $case, array $environment = []): void
    {
        $since = microtime(true);
        [$code, $said] = self::velvet(['start'], $environment);
        self::note($case, $said, $since);
        self::assertStringContainsString($words, $said);
        self::assertSame(1, $code);
    }

    /**
     * @param list<string>          $arguments
     * @param array<string, string> $environment
     *
     * @return array{int|null, string} exit status; what was said
     */
    private static function velvet(array $arguments, array $environment = []): array
    {
        $process = new Process([\dirname(__DIR__, 2).'/velvet', ...$arguments], env: $environment + [
            'VELVET_HOME' => self::$home, 'VELVET_PORT' => (string) self::PORT, 'VELVET_BAYS' => self::$folder.'/bays',
            'APP_ENV' => false, 'APP_DEBUG' => false, 'VELVET_DATABASE' => false, 'PGPASSWORD' => false,
            'VELVET_FENCE' => false,
        ], timeout: 120);
        $process->run();

        return [$process->getExitCode(), $process->getOutput().$process->getErrorOutput()];
    }

    private static function note(string $case, string $said, float $since): void
    {
        if (false !== getenv('VELVET_TABLE') && '' !== $case) {
            fwrite(
                \STDERR,
                \sprintf("%s | %s | %.1f\n", $case, strtr(trim($said), "\n", ' '), microtime(true) - $since),
            );
        }
    }

    private static function answers(): bool
    {
        return '200' === self::statusOf(
            'api/bays',
            'Authorization: Bearer '.@file_get_contents(self::$home.'/access-key'),
        );
    }

    private static function statusOf(string $page, string $header = 'Accept: */*'): string
    {
        return trim(
            (string) shell_exec(
                \sprintf(
                    'curl -s -m 5 -o /dev/null -w "%%{http_code}" -H %s http://127.0.0.1:%d/%s',
                    escapeshellarg($header),
                    self::PORT,
                    $page,
                ),
            ),
        );
    }

    private static function await(\Closure $it): bool
    {
        for ($n = 0; $n < 300; ++$n) {
            if (true === $it()) {
                return true;
            }
            usleep(50_000);
        }

        return false;
    }

    /** The number of the supervisor's process; 0 when there is none. */
    private static function supervisor(): int
    {
        return (int) trim(
            (string) shell_exec(
                \sprintf('pgrep -xf %s', escapeshellarg('.*supervisord -c '.self::$home.'/etc/supervisord.conf')),
            ),
        );
    }

    /** @return list<string> what runs under the supervisor of this home, by name */
    private static function processes(): array
    {
        $names = [];
        foreach ((array) glob('/proc/[0-9]*/environ') as $path) {
            if (str_contains("\0".@file_get_contents((string) $path), "\0VELVET_SUPERVISED=".self::$home."\0")) {
                $command = explode("\0", (string) @file_get_contents(\dirname((string) $path).'/cmdline'));
                $name = implode(' ', \array_slice($command, 2));
                if (str_contains($command[0], 'php') && 1 === preg_match(self::WORKERS, $name.' ')) {
                    $names[] = $name;
                }
            }
        }
        sort($names);

        return $names;
    }

    private static function sh(string $command): int
    {
        $process = Process::fromShellCommandline($command);

        return $process->run();
    }
}
