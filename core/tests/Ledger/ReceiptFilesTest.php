<?php

declare(strict_types=1);

namespace Velvet\Core\Tests\Ledger;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Velvet\Core\Bytes\Digest;
use Velvet\Core\Bytes\SecondDigest;
use Velvet\Core\Copy\FileToCopy;
use Velvet\Core\Copy\PageCache;
use Velvet\Core\Copy\VerifiedCopy;
use Velvet\Core\Ledger\AscMhl;
use Velvet\Core\Ledger\ChecksumList;
use Velvet\Core\Ledger\DriveCheck;
use Velvet\Core\Ledger\ReceiptLine;
use Velvet\Core\Ledger\ReceiptTable;
use Velvet\Core\Tests\TemporaryFolder;

/** A receipt's files, each read by a program that others wrote. */
final class ReceiptFilesTest extends TestCase
{
    use TemporaryFolder;

    /**
     * The parts of the ASC MHL 2.0 schema (ASCMHL.xsd and ASCMHLTypes.xsd, namespace urn:ASC:MHL:v2.0) that our lists
     * use, from memory: names, order, types and which of them must be there.
     */
    private const SCHEMA = <<<'XSD'
        <xs:schema xmlns:xs="http://www.w3.org/2001/XMLSchema"
            xmlns="urn:ASC:MHL:v2.0" targetNamespace="urn:ASC:MHL:v2.0" elementFormDefault="qualified">
          <xs:element name="hashlist"><xs:complexType><xs:sequence>
            <xs:element name="creatorinfo"><xs:complexType><xs:sequence>
              <xs:element name="creationdate" type="xs:dateTime"/><xs:element name="hostname" type="xs:string"/>
              <xs:element name="tool"><xs:complexType><xs:simpleContent><xs:extension base="xs:string">
                <xs:attribute name="version" type="xs:string"/>
              </xs:extension></xs:simpleContent></xs:complexType></xs:element>
              <xs:element name="author" type="xs:string" minOccurs="0" maxOccurs="unbounded"/>
            </xs:sequence></xs:complexType></xs:element>
            <xs:element name="processinfo"><xs:complexType><xs:sequence>
              <xs:element name="process"><xs:simpleType><xs:restriction base="xs:string">
                <xs:enumeration value="in-place"/><xs:enumeration value="transfer"/><xs:enumeration value="flatten"/>
              </xs:restriction></xs:simpleType></xs:element>
            </xs:sequence></xs:complexType></xs:element>
            <xs:element name="hashes"><xs:complexType><xs:sequence>
              <xs:element name="hash" maxOccurs="unbounded"><xs:complexType><xs:sequence>
                <xs:element name="path"><xs:complexType><xs:simpleContent><xs:extension base="relativepath">
                  <xs:attribute name="size" type="xs:nonNegativeInteger"/>
                  <xs:attribute name="lastmodificationdate" type="xs:dateTime"/>
                </xs:extension></xs:simpleContent></xs:complexType></xs:element>
                <xs:element name="xxh128"><xs:complexType><xs:simpleContent><xs:extension base="xxh128">
                  <xs:attribute name="action"><xs:simpleType><xs:restriction base="xs:string">
                    <xs:enumeration value="original"/><xs:enumeration value="verified"/><xs:enumeration value="failed"/>
                  </xs:restriction></xs:simpleType></xs:attribute>
                  <xs:attribute name="hashdate" type="xs:dateTime"/>
                </xs:extension></xs:simpleContent></xs:complexType></xs:element>
              </xs:sequence></xs:complexType></xs:element>
            </xs:sequence></xs:complexType></xs:element>
          </xs:sequence><xs:attribute name="version" type="xs:decimal" use="required"/></xs:complexType></xs:element>
          <xs:simpleType name="relativepath"><xs:restriction base="xs:string">
            <xs:pattern value="[^/].*"/>
          </xs:restriction></xs:simpleType>
          <xs:simpleType name="xxh128"><xs:restriction base="xs:string">
            <xs:pattern value="[0-9a-f]{32}"/>
          </xs:restriction></xs:simpleType>
        </xs:schema>
        XSD;

    #[DataProvider('programs')]
    public function testAChecksumListIsCheckedByTheOrdinaryProgram(string $program, ?SecondDigest $kind): void
    {
        $lines = [
            $this->filed('regatta/a lantern — “first”.jpg', 'one', $kind),
            $this->filed('regatta/b.jpg', '', $kind),
            self::notFiled(),
        ];
        file_put_contents($this->folder.'/shelf/regatta/list', ChecksumList::of($lines, $kind, 'regatta'));
        exec('cd '.escapeshellarg($this->folder.'/shelf/regatta').' && '.$program.' -c list 2>&1', $said, $status);
        self::assertSame(0, $status, implode("\n", $said));
        self::assertCount(2, (array) preg_grep('/OK$/', $said));
        file_put_contents($this->folder.'/shelf/regatta/b.jpg', 'changed');
        exec('cd '.escapeshellarg($this->folder.'/shelf/regatta').' && '.$program.' -c list 2>&1', $said, $status);
        self::assertNotSame(0, $status);
        self::assertSame('', ChecksumList::of($lines, $kind, 'kiln'), 'a folder that nothing was filed in');
    }

    /** @return iterable<string, array{string, SecondDigest|null}> programs of the packages coreutils and xxhash */
    public static function programs(): iterable
    {
        yield 'XXH128' => ['xxh128sum', null];
        yield 'SHA-256' => ['sha256sum', SecondDigest::Sha256];
        yield 'BLAKE2b' => ['b2sum', SecondDigest::Blake2b];
    }

    public function testAMediaHashListKeepsToItsSchema(): void
    {
        $xml = AscMhl::of(
            [$this->filed('regatta/a & b <1>.jpg', 'one'), self::notFiled()],
            new \DateTimeImmutable('2026-05-03 01:02:03 +02:00'),
            'studio',
            '1',
        );
        $document = new \DOMDocument();
        $document->loadXML($xml);
        $before = libxml_use_internal_errors(true);
        try {
            self::assertTrue(
                $document->schemaValidateSource(self::SCHEMA),
                implode(
                    "\n",
                    array_map(static fn (\LibXMLError $error): string => $error->message, libxml_get_errors()),
                ),
            );
        } finally {
            libxml_clear_errors();
            libxml_use_internal_errors($before);
        }
        self::assertSame('regatta/a & b <1>.jpg', $document->getElementsByTagName('path')->item(0)?->textContent);
        self::assertSame(1, $document->getElementsByTagName('hash')->length, 'what failed has no place in it');
    }

    public function testATableIsReadBackByAnyReaderOfCommaSeparatedValues(): void
    {
        $table = ReceiptTable::of([$this->filed("regatta/a, \"b\"\r\n.jpg", 'one'), self::notFiled()]);
        $stream = fopen('php://memory', 'r+');
        self::assertIsResource($stream);
        fwrite($stream, $table);
        rewind($stream);
        $rows = [];
        while (false !== $row = fgetcsv($stream, null, ',', '"', '')) { // RFC 4180 knows no escape character
            $rows[] = $row;
        }
        self::assertSame([13, 13, 13], array_map(count(...), $rows));
        self::assertSame(
            ["regatta/a, \"b\"\r\n.jpg", $this->folder."/shelf/regatta/a, \"b\"\r\n.jpg"],
            [$rows[1][5], $rows[1][6]],
        );
        self::assertSame(['failed', 'It cannot be read, “again”.'], [$rows[2][0], $rows[2][12]]);
        self::assertStringEndsWith("\r\n", $table);
    }

    public function testACheckTellsGoodFromChangedMissingAndUnknown(): void
    {
        $check = new DriveCheck(new PageCache());
        $digest = Digest::ofBytes('one');
        self::assertSame('good', $check->file($this->file('shoot/a.jpg', 'one'), 3, $digest));
        self::assertSame('changed', $check->file($this->file('shoot/b.jpg', 'two'), 3, $digest));
        self::assertSame('changed', $check->file($this->file('shoot/c.jpg', 'one more'), 3, $digest));
        self::assertSame('missing', $check->file($this->folder.'/shoot/d.jpg', 3, $digest));
        $this->file('shoot/checksums-intake-1.xxh128');
        $this->file('shoot/.hidden');
        $this->file('shoot/selects/e.jpg');
        $check->folder($this->folder.'/shoot');
        self::assertSame(
            [
                'checked' => 4,
                'good' => 1,
                'changed' => [$this->folder.'/shoot/b.jpg', $this->folder.'/shoot/c.jpg'],
                'missing' => [$this->folder.'/shoot/d.jpg'],
                'unknown' => [$this->folder.'/shoot/selects/e.jpg'],
            ],
            $check->toArray(),
        );
    }

    /** Really copies a file, and gives the line that the receipt has for it. */
    private function filed(string $path, string $content, ?SecondDigest $kind = null): ReceiptLine
    {
        $source = $this->file('card/'.md5($path), $content);
        touch($source, 1777750300);
        $digests = (new VerifiedCopy(new PageCache()))->copy(
            new FileToCopy($source, \strlen($content), 1777750300, [$this->folder.'/shelf/'.$path], 'test', $kind),
        );

        return new ReceiptLine(
            'filed',
            1,
            'Regatta',
            'card',
            md5($path),
            $path,
            [$this->folder.'/shelf/'.$path],
            \strlen($content),
            $digests,
            1777750300,
            '2026-05-02T21:31:40+02:00',
        );
    }

    private static function notFiled(): ReceiptLine
    {
        return new ReceiptLine(
            'failed',
            1,
            'Regatta',
            'card',
            'DCIM/100/T0002.JPG',
            null,
            [],
            3,
            null,
            note: 'It cannot be read, “again”.',
        );
    }
}
