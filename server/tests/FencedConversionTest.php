<?php

declare(strict_types=1);

namespace Velvet\Server\Tests;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Symfony\Component\Process\Process;
use Velvet\Server\Work\Dng\FencedConversion;

/** Programs that hang, grow and crash in the place of a conversion. */
final class FencedConversionTest extends TestCase
{
    #[DataProvider('unruly')]
    public function testWhatOverrunsIsGivenUp(string $program, int $seconds): void
    {
        $conversion = new FencedConversion(
            [\PHP_BINARY, '-n', '-d', 'memory_limit=-1', '-r', $program, '--'],
            $seconds,
            400_000_000,
        );
        $conversion->start('/from', '/to', 'T0001.TRW', false);
        while ($conversion->runs()) {
            usleep(2000);
        }
        self::assertSame('converting it took too long or too much memory, and was given up', $conversion->outcome());
    }

    /** @return iterable<string, array{string, int}> */
    public static function unruly(): iterable
    {
        yield 'it hangs' => ['for (;;) { }', 1];
        yield 'it grows' => ['$a = []; for (;;) { $a[] = str_repeat("x", 10_000_000); }', 20];
        yield 'it crashes' => ['posix_kill(getmypid(), 11);', 20];
        yield 'it says nothing of use' => ['echo "{}";', 20];
    }

    public function testWhatItSaysIsHeard(): void
    {
        $conversion = new FencedConversion(
            [
                \PHP_BINARY,
                '-n',
                '-r',
                'echo json_encode(["bytes_before" => 9, "bytes_after" => 4, "samples" => "00", "digest" => "01"]);',
                '--',
            ],
        );
        $conversion->start('/from', '/to', 'T0001.TRW', true);
        while ($conversion->runs()) {
            usleep(2000);
        }
        self::assertSame(
            ['bytes_before' => 9, 'bytes_after' => 4, 'samples' => '00', 'digest' => '01'],
            $conversion->outcome(),
        );
    }

    /** What native code could be made to do by a crafted file, tried from PHP. */
    public function testAProcessThatIsShutInReachesNothingElse(): void
    {
        $folder = sys_get_temp_dir().'/velvet-fence-'.getmypid();
        mkdir($folder.'/own', recursive: true);
        file_put_contents($folder.'/raw', 'samples');
        file_put_contents($folder.'/other', 'a letter');
        $program = <<<'PHP'
            require $argv[1];
            [$folder, $port] = [$argv[2], $argv[3]];
            $before = @file_get_contents($folder.'/other');
            $ours = dirname($argv[1], 2);
            $closed = Velvet\Server\Fence::close(
                ['/usr', '/lib', '/lib64', $ours.'/core', $ours.'/vendor', $folder.'/raw'],
                $folder.'/own',
            );
            echo json_encode([
                'before' => $before, 'closed' => $closed,
                'reads its file' => @file_get_contents($folder.'/raw'),
                'reads another' => @file_get_contents($folder.'/other'),
                'writes into its folder' => @file_put_contents($folder.'/own/made', 'x'),
                'writes elsewhere' => @file_put_contents($folder.'/made', 'x'),
                'writes into its file' => @file_put_contents($folder.'/raw', 'x'),
                'takes away' => @unlink($folder.'/other'),
                'connects' => false !== @stream_socket_client('tcp://127.0.0.1:'.$port, $number, $why, 1),
                'starts a program' => (string) @exec('echo yes'),
            ]);
            PHP;
        $server = stream_socket_server('tcp://127.0.0.1:0');
        self::assertIsResource($server);
        $process = new Process(
            [
                \PHP_BINARY,
                '-r',
                $program,
                '--',
                \dirname(__DIR__, 2).'/vendor/autoload.php',
                $folder,
                substr((string) strrchr((string) stream_socket_get_name($server, false), ':'), 1),
            ],
        );
        $process->run();
        fclose($server);
        self::assertSame(0, $process->getExitCode(), $process->getErrorOutput());
        self::assertSame([
            'before' => 'a letter', 'closed' => true, 'reads its file' => 'samples', 'reads another' => false,
            'writes into its folder' => 1, 'writes elsewhere' => false, 'writes into its file' => false,
            'takes away' => false, 'connects' => false, 'starts a program' => '',
        ], json_decode($process->getOutput(), true));
        array_map(unlink(...), [$folder.'/own/made', $folder.'/raw', $folder.'/other']);
        rmdir($folder.'/own');
        rmdir($folder);
    }

    /**
     * One program may be become, and is shut in as well; what it may not read it cannot, nor may another be started.
     */
    public function testTheOneProgramThatItMayBecomeIsShutInAsWell(): void
    {
        $folder = sys_get_temp_dir().'/velvet-fence-run-'.getmypid();
        mkdir($folder);
        file_put_contents($folder.'/raw', 'samples');
        file_put_contents($folder.'/other', 'a letter');
        $program = <<<'PHP'
            require $argv[1];
            $closed = Velvet\Server\Fence::close(['/usr', '/lib', '/lib64', $argv[2].'/raw'], null, '/usr/bin/cat');
            @pcntl_exec('/usr/bin/id');
            pcntl_exec('/usr/bin/cat', [$argv[2].'/raw', $argv[2].'/other']);
            PHP;
        $process = new Process([
            \PHP_BINARY, '-r', $program, '--', \dirname(__DIR__).'/src/Fence.php', $folder,
        ]);
        $process->run();
        self::assertSame('samples', $process->getOutput());
        self::assertStringContainsString('Permission denied', $process->getErrorOutput());
        array_map(unlink(...), [$folder.'/raw', $folder.'/other']);
        rmdir($folder);
    }
}
