<?php

declare(strict_types=1);

namespace Velvet\Server;

/**
 * Shuts this process in before it looks at a file that may be crafted: from then on it reads only what it was told,
 * writes only into one folder if into any, opens no connection and starts no program, whatever happens to it. (Linux:
 * Landlock for files, a seccomp filter for the rest; both for any user.).
 */
final class Fence
{
    private const LIBRARY = 'libc.so.6';
    private const NO_NEW_PRIVILEGES = 38;   // prctl(2): PR_SET_NO_NEW_PRIVS
    private const SECCOMP = 22;             // PR_SET_SECCOMP
    private const SECCOMP_FILTER = 2;       // SECCOMP_MODE_FILTER
    private const CREATE_RULESET = 444;     // landlock(7); the same numbers on all machines
    private const ADD_RULE = 445;
    private const RESTRICT_SELF = 446;
    private const PATH_BENEATH = 1;         // LANDLOCK_RULE_PATH_BENEATH
    private const ALL_ACCESS = (1 << 13) - 1; // LANDLOCK_ACCESS_FS_*, of its first version
    private const READ = 1 << 2 | 1 << 3;   // READ_FILE, READ_DIR
    private const RUN = 1 << 0 | 1 << 2;    // EXECUTE, READ_FILE
    /** EXECUTE, WRITE_FILE, READ_FILE: all that may be said of a file. */
    private const OF_A_FILE = 1 << 0 | 1 << 1 | 1 << 2;
    private const OPEN_PATH = 0o10000000;   // open(2): O_PATH
    private const LEAVE_ON_EXEC = 0o2000000; // O_CLOEXEC
    /**
     * Of the processors it runs on: the number of the architecture (linux/audit.h), and those of socket, execve,
     * execveat and ptrace.
     */
    private const CALLS = [
        'x86_64' => [0xC000003E, [41, 59, 322, 101]],
        'aarch64' => [0xC00000B7, [198, 221, 281, 117]],
    ];

    /**
     * @param list<string> $read  files and folders that may be read, with all that is in them
     * @param string|null  $write the folder that may be written into
     * @param string|null  $run   the one program that this process may become: it stays shut in
     *
     * @return bool false where the kernel has no such fences
     */
    public static function close(array $read, ?string $write, ?string $run = null): bool
    {
        try {
            return 0 === \FFI::cdef(
                'int prctl(int option, long value, long a, long b, long c);',
                self::LIBRARY,
            )->prctl(self::NO_NEW_PRIVILEGES, 1, 0, 0, 0)
                && self::files($read, $write, null === $run ? [] : [$run, ...self::loaders()])
                && self::calls(null !== $run);
        } catch (\FFI\Exception) {
            return false;
        }
    }

    /** @return list<string> what the kernel starts a program with (ld.so(8)) */
    private static function loaders(): array
    {
        $found = glob('/{lib64,lib}/ld-linux-*.so.*', \GLOB_BRACE);

        return array_values(array_filter(array_map(realpath(...), false === $found ? [] : $found), is_string(...)));
    }

    /**
     * @param list<string> $read
     * @param list<string> $run
     */
    private static function files(array $read, ?string $write, array $run): bool
    {
        $handled = pack('P', self::ALL_ACCESS);
        $ruleset = \FFI::cdef(
            'long syscall(long number, const char *attributes, size_t size, unsigned int flags);',
            self::LIBRARY,
        )->syscall(self::CREATE_RULESET, $handled, \strlen($handled), 0);
        if ($ruleset < 0) {
            return false;
        }
        $files = \FFI::cdef(
            'int open(const char *path, int flags); int close(int fd); long syscall(long number, int ruleset, int '
                .'type, const char *rule, unsigned int flags);',
            self::LIBRARY,
        );
        $allowed = [
            ...array_fill_keys($read, self::READ),
            ...(null === $write ? [] : [$write => self::ALL_ACCESS]),
            ...array_fill_keys($run, self::RUN),
        ];
        foreach ($allowed as $path => $access) {
            $fd = $files->open($path, self::OPEN_PATH | self::LEAVE_ON_EXEC);
            if ($fd >= 0) {
                $files->syscall(
                    self::ADD_RULE,
                    $ruleset,
                    self::PATH_BENEATH,
                    pack('Pl', is_dir($path) ? $access : $access & self::OF_A_FILE, $fd),
                    0,
                );
                $files->close($fd);
            }
        }

        return 0 === \FFI::cdef(
            'long syscall(long number, int ruleset, unsigned int flags);',
            self::LIBRARY,
        )->syscall(self::RESTRICT_SELF, $ruleset, 0);
    }

    /**
     * A program for the kernel (classic BPF, struct sock_filter: code, jumps, number) that refuses some calls and lets
     * all others pass.
     */
    private static function calls(bool $mayRun): bool
    {
        [$architecture, $refused] = self::CALLS[php_uname('m')] ?? [0, []];
        $refused = $mayRun && [] !== $refused ? [$refused[0], $refused[3]] : $refused;
        $step = static fn (int $code, int $yes, int $no, int $k): string => pack('vCCV', $code, $yes, $no, $k);
        [$load, $isEqual, $return] = [0x20, 0x15, 0x06]; // BPF_LD|BPF_W|BPF_ABS, BPF_JMP|BPF_JEQ|BPF_K, BPF_RET|BPF_K
        // SECCOMP_RET_ERRNO with EPERM, _ALLOW, _KILL_PROCESS
        [$notPermitted, $pass, $kill] = [0x00050001, 0x7FFF0000, 0x80000000];
        $program = $step($load, 0, 0, 4).$step($isEqual, 1, 0, $architecture)
            .$step($return, 0, 0, $kill).$step($load, 0, 0, 0);
        foreach ($refused as $i => $call) {
            $program .= $step($isEqual, \count($refused) - $i, 0, $call);
        }
        $program .= $step($return, 0, 0, $pass).$step($return, 0, 0, $notPermitted);
        $c = \FFI::cdef(
            'struct program { unsigned short length; char *steps; }; int prctl(int option, long value, struct '
                .'program *program);',
            self::LIBRARY,
        );
        $steps = $c->new('char['.\strlen($program).']');
        $head = $c->new('struct program');
        if ([] === $refused || null === $steps || null === $head) {
            return false;
        }
        \FFI::memcpy($steps, $program, \strlen($program));
        $head->length = intdiv(\strlen($program), 8);
        $head->steps = $c->cast('char *', $steps);

        return 0 === $c->prctl(self::SECCOMP, self::SECCOMP_FILTER, \FFI::addr($head));
    }
}
