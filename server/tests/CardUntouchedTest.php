<?php

declare(strict_types=1);

namespace Velvet\Server\Tests;

use Velvet\Bench\Trials\ConsoleProcess;
use Velvet\Bench\Trials\TrialPlace;

/** Nothing is ever written to a card: a whole intake, from the reading to the receipt, seen from outside. */
final class CardUntouchedTest extends ServerTestCase
{
    /** Calls of Linux that change what a path or an open file names (man 2). */
    private const CHANGING = '/^\d+ +(?:unlink|rename|mkdir|rmdir|link|symlink|mknod|creat|chmod|fchmod|chown|lchown'
        .'|fchown|utime|futimesat|truncate|ftruncate|fallocate|setxattr|lsetxattr|fsetxattr|removexattr|write|pwrite'
        .'|writev|pwritev|copy_file_range|sendfile|fsync|fdatasync)(?:at|at2|64|v2|s|nsat)?\(/';

    public function testNoCallOfAWholeIntakeChangesAnythingUnderTheCardsPath(): void
    {
        $place = $this->place();
        $log = $this->folder.'/calls';
        if (
            0 !== ConsoleProcess::intake(
                $place,
                ['strace', '-f', '-y', '-qq', '-o', $log, '-e', 'trace=%file,%desc'],
            )->wait()
            && !is_file($log)
        ) {
            self::markTestSkipped('strace may not trace here.');
        }
        self::assertSame([], $place->losses());
        $under = 0;
        foreach ((array) file($log, \FILE_IGNORE_NEW_LINES) as $call) {
            $call = (string) $call;
            if (!str_contains($call, $place->card)) {
                continue;
            }
            ++$under;
            self::assertDoesNotMatchRegularExpression(self::CHANGING, $call);
            self::assertDoesNotMatchRegularExpression(
                '/open(?:at)?\(.*(?:O_WRONLY|O_RDWR|O_CREAT|O_TRUNC|O_APPEND)/',
                $call,
            );
        }
        self::assertGreaterThan(20, $under, 'the card was read');
    }

    public function testACardThatCannotBeWrittenToIsTakenInLikeAnyOther(): void
    {
        $place = $this->place();
        $card = escapeshellarg($place->card);
        exec("mount --bind $card $card 2>&1 && mount -o remount,ro,bind $card 2>&1", $said, $status);
        if (0 !== $status) {
            self::markTestSkipped('Mounting is not allowed here: '.implode(' ', $said));
        }
        try {
            self::assertFalse(@touch($place->card.'/probe'), 'the mount is read-only');
            self::assertSame(0, ConsoleProcess::intake($place)->wait());
            self::assertSame([], $place->losses());
        } finally {
            exec("umount -l $card");
        }
    }

    private function place(): TrialPlace
    {
        return new TrialPlace($this->folder.'/place', 3, new \Random\Randomizer(new \Random\Engine\Mt19937(1)));
    }
}
