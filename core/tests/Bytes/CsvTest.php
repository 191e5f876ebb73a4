<?php

declare(strict_types=1);

namespace Velvet\Core\Tests\Bytes;

use PHPUnit\Framework\Attributes\TestWith;
use PHPUnit\Framework\TestCase;
use Velvet\Core\Bytes\Csv;

final class CsvTest extends TestCase
{
    public function testARecordIsAsRfc4180HasIt(): void
    {
        $fields = ['plain', '', 'with, comma', "two\r\nlines", 'a "word"', '-5'];
        self::assertSame("plain,,\"with, comma\",\"two\r\nlines\",\"a \"\"word\"\"\",-5\r\n", Csv::record($fields));
        self::assertSame($fields, str_getcsv(rtrim(Csv::record($fields), "\r\n"), escape: ''));
    }

    /** OWASP, “CSV Injection”. */
    #[TestWith(['=HYPERLINK("http://a.example")'])]
    #[TestWith(['+1'])]
    #[TestWith(['-1'])]
    #[TestWith(['@SUM(A1)'])]
    #[TestWith(["\t=1"])]
    #[TestWith(["\r=1"])]
    public function testWhatASpreadsheetWouldComputeIsShownAsText(string $field): void
    {
        self::assertSame(
            ["'".$field, 'a=b'],
            str_getcsv(substr(Csv::shown([$field, 'a=b']), 0, -2), escape: ''),
        );
    }
}
