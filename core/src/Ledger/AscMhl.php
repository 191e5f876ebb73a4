<?php

declare(strict_types=1);

namespace Velvet\Core\Ledger;

/** A hash list of the ASC Media Hash List 2.0 (American Society of Cinematographers), with XXH128 digests. */
final class AscMhl
{
    private const NAMESPACE = 'urn:ASC:MHL:v2.0';

    /**
     * @param iterable<ReceiptLine> $lines files that are not filed are passed over
     * @param string                $host  name of the computer
     * @param Seal|null             $seal  of the intake that it is the receipt of
     */
    public static function of(
        iterable $lines,
        \DateTimeImmutable $at,
        string $host,
        string $version,
        ?Seal $seal = null,
    ): string {
        $xml = new \XMLWriter();
        $xml->openMemory();
        $xml->setIndent(true);
        $xml->setIndentString('  ');
        $xml->startDocument('1.0', 'UTF-8');
        $xml->startElement('hashlist');
        $xml->writeAttribute('version', '2.0');
        $xml->writeAttribute('xmlns', self::NAMESPACE);
        $xml->startElement('creatorinfo');
        $xml->writeElement('creationdate', $at->format('c'));
        $xml->writeElement('hostname', $host);
        $xml->startElement('tool');
        $xml->writeAttribute('version', $version);
        $xml->text('Velvet Ledger');
        $xml->endElement();
        if (null !== $seal) {
            $xml->writeElement('comment', rtrim($seal->text()));
        }
        $xml->endElement();
        $xml->startElement('processinfo');
        $xml->writeElement('process', 'transfer');
        $xml->endElement();
        $xml->startElement('hashes');
        foreach ($lines as $line) {
            if ('filed' !== $line->state || null === $line->path || null === $line->digests) {
                continue;
            }
            $xml->startElement('hash');
            $xml->startElement('path');
            $xml->writeAttribute('size', (string) $line->bytes);
            if (null !== $line->modifiedAt) {
                $xml->writeAttribute('lastmodificationdate', gmdate('Y-m-d\TH:i:sP', $line->modifiedAt));
            }
            $xml->text($line->path);
            $xml->endElement();
            $xml->startElement('xxh128');
            $xml->writeAttribute('action', 'original');
            if (null !== $line->filedAt) {
                $xml->writeAttribute('hashdate', $line->filedAt);
            }
            $xml->text($line->digests->content->hex);
            $xml->endElement();
            $xml->endElement();
        }
        $xml->endElement();
        $xml->endElement();
        $xml->endDocument();

        return $xml->outputMemory();
    }
}
