<?php

declare(strict_types=1);

namespace Velvet\Server\Work\Receipts;

use Velvet\Core\Bytes\SecondDigest;
use Velvet\Core\Ledger\AscMhl;
use Velvet\Core\Ledger\ChecksumList;
use Velvet\Core\Ledger\ReceiptLine;
use Velvet\Core\Ledger\ReceiptTable;
use Velvet\Core\Ledger\Seal;

/** The open formats in which a receipt leaves the house; the value is the file's extension. */
enum ReceiptFormat: string
{
    case Xxh128 = 'xxh128';
    case Sha256 = 'sha256';
    case Blake2b = 'b2';
    case Mhl = 'mhl';
    case Csv = 'csv';
    case Json = 'json';

    private const VERSION = '1';

    public static function ofSecond(?SecondDigest $second): ?self
    {
        return match ($second) {
            null => null,
            SecondDigest::Sha256 => self::Sha256,
            SecondDigest::Blake2b => self::Blake2b,
        };
    }

    public function mediaType(): string
    {
        return match ($this) {
            self::Xxh128, self::Sha256, self::Blake2b => 'text/plain; charset=UTF-8',
            self::Mhl => 'application/xml',
            self::Csv => 'text/csv; charset=UTF-8; header=present',
            self::Json => 'application/json',
        };
    }

    /**
     * @param iterable<ReceiptLine> $lines
     * @param string                $below the folder that the paths of checksum lists are relative to, itself relative
     *                                     to the shelf
     * @param Seal|null             $seal  of the intake's last line, where the format has a place for it
     */
    public function of(iterable $lines, \DateTimeImmutable $at, string $below = '', ?Seal $seal = null): string
    {
        return match ($this) {
            self::Xxh128 => ChecksumList::of($lines, null, $below),
            self::Sha256 => ChecksumList::of($lines, SecondDigest::Sha256, $below),
            self::Blake2b => ChecksumList::of($lines, SecondDigest::Blake2b, $below),
            self::Mhl => AscMhl::of($lines, $at, (string) gethostname(), self::VERSION, $seal),
            self::Csv => ReceiptTable::of($lines),
            self::Json => json_encode(
                (null === $seal ? [] : ['intake' => $seal->intake, 'seal' => $seal->hex]) + [
                    'files' => array_map(static fn (ReceiptLine $line): array => $line->toArray(), [...$lines]),
                ],
                \JSON_THROW_ON_ERROR | \JSON_PRETTY_PRINT | \JSON_UNESCAPED_SLASHES | \JSON_UNESCAPED_UNICODE,
            )."\n",
        };
    }
}
