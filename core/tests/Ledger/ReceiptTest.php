<?php

declare(strict_types=1);

namespace Velvet\Core\Tests\Ledger;

use PHPUnit\Framework\TestCase;
use Velvet\Core\Ledger\LedgerLine;

final class ReceiptTest extends TestCase
{
    public function testALineIsSealedWithTheLineBefore(): void
    {
        $at = new \DateTimeImmutable('2026-05-02 21:31:40.123456 +02:00');
        $line = LedgerLine::after(LedgerLine::FIRST_SEAL, $at, 'file_filed', ['from' => 'DCIM/a.jpg', 'bytes' => 3]);
        self::assertSame('2026-05-02T19:31:40.123456Z', $line->at);
        // computed by sha256sum from coreutils
        $theirs = explode(
            ' ',
            (string) shell_exec(
                \sprintf(
                    'printf %%s %s | sha256sum',
                    escapeshellarg(
                        LedgerLine::FIRST_SEAL."\n2026-05-02T19:31:40.123456Z\nfile_filed\n"
                            .'{"from":"DCIM/a.jpg","bytes":3}',
                    ),
                ),
            ),
        )[0];
        self::assertSame($theirs, $line->seal);
        self::assertNotSame(
            $line->seal,
            LedgerLine::sealed($line->before, $line->at, $line->event, '{"from":"DCIM/b.jpg","bytes":3}')->seal,
        );
    }
}
