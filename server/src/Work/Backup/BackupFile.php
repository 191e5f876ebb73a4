<?php

declare(strict_types=1);

namespace Velvet\Server\Work\Backup;

use Symfony\Component\Process\Process;
use Velvet\Server\Store\BackupRefused;
use Velvet\Server\Store\CatalogueSum;

/**
 * A backup in one file: a tar archive (POSIX.1-2001, pax) of `about.json`, `catalogue.dump` (PostgreSQL's custom
 * format), `settings.json` and `styles/`. docs/formats.md tells what stands in them.
 */
final readonly class BackupFile
{
    public const ENDING = '.velvet-backup';
    private const FORMAT = 'velvet-ledger-backup';
    private const VERSION = 1;
    private const ABOUT = 'about.json';
    private const DUMP = 'catalogue.dump';
    private const JSON = \JSON_THROW_ON_ERROR | \JSON_PRETTY_PRINT | \JSON_UNESCAPED_SLASHES | \JSON_UNESCAPED_UNICODE;

    private function __construct(
        public string $path,
        public \DateTimeImmutable $madeAt,
        public CatalogueSum $sum,
        private string $digest,
    ) {
    }

    /**
     * @param string                $folder   that holds the dump, and gets the rest
     * @param array<string, string> $styles   JSON documents by name
     * @param array<string, mixed>  $settings
     */
    public static function pack(
        string $path,
        string $folder,
        \DateTimeImmutable $at,
        CatalogueSum $sum,
        array $styles,
        array $settings,
    ): self {
        $digest = (string) hash_file('sha256', self::dumpIn($folder));
        mkdir($folder.'/styles', 0o700);
        $n = 0;
        foreach ($styles as $document) {
            file_put_contents(\sprintf('%s/styles/%03d.json', $folder, ++$n), $document);
        }
        file_put_contents($folder.'/settings.json', json_encode($settings, self::JSON));
        file_put_contents($folder.'/'.self::ABOUT, json_encode([
            'format' => self::FORMAT,
            'version' => self::VERSION,
            'made_at' => $at->format('c'),
            'rows' => $sum->rows,
            'chain' => $sum->chain,
            'last_seal' => $sum->end,
            'schema' => $sum->schema,
            'catalogue' => ['sha256' => $digest, 'bytes' => filesize(self::dumpIn($folder))],
        ], self::JSON));
        // what it is about stands first, so that it is found without reading the rest
        self::tar(
            ['-cf', $path, '-C', $folder, self::ABOUT, 'settings.json', 'styles', self::DUMP],
            BackupRefused::folder(\dirname($path), 'tar cannot write there'),
        );

        return new self($path, $at, $sum, $digest);
    }

    public static function dumpIn(string $folder): string
    {
        return $folder.'/'.self::DUMP;
    }

    /** @throws BackupRefused */
    public static function open(string $path): self
    {
        if (!is_file($path)) {
            throw BackupRefused::noBackup($path, 'there is no such file');
        }
        $refused = BackupRefused::noBackup($path, 'it is damaged, or something else');
        try {
            $about = json_decode(
                self::tar(['-xOf', $path, '--occurrence=1', self::ABOUT], $refused),
                true,
                32,
                \JSON_THROW_ON_ERROR,
            );
        } catch (\JsonException) {
            throw $refused;
        }
        if (!\is_array($about) || self::FORMAT !== ($about['format'] ?? null)) {
            throw $refused;
        }
        if (self::VERSION !== ($about['version'] ?? null)) {
            throw BackupRefused::newer($path);
        }
        [$at, $rows, $chain, $seal, $schema, $catalogue] = array_map(
            static fn (string $name): mixed => $about[$name] ?? null,
            ['made_at', 'rows', 'chain', 'last_seal', 'schema', 'catalogue'],
        );
        $madeAt = \is_string($at) ? date_create_immutable($at) : false;
        $digest = \is_array($catalogue) ? $catalogue['sha256'] ?? null : null;
        if (
            false === $madeAt
            || !\is_array($rows)
            || !\is_array($chain)
            || !\is_string($seal)
            || !\is_array($schema)
            || !\is_string($digest)
        ) {
            throw $refused;
        }
        $lines = $chain['lines'] ?? null;
        $whole = $chain['whole'] ?? null;
        $brokenAt = $chain['broken_at'] ?? null;
        $lacks = $chain['lacks'] ?? null;
        if (
            !\is_int($lines)
            || !\is_bool($whole)
            || (null !== $brokenAt && !\is_int($brokenAt))
            || !\is_array($lacks)
        ) {
            throw $refused;
        }

        return new self($path, $madeAt, new CatalogueSum(
            array_filter(array_combine(array_map(strval(...), array_keys($rows)), $rows), is_int(...)),
            [
                'lines' => $lines,
                'whole' => $whole,
                'broken_at' => $brokenAt,
                'lacks' => array_values(array_filter($lacks, is_int(...))),
            ],
            $seal,
            array_values(array_filter($schema, is_string(...))),
        ), $digest);
    }

    /**
     * Takes the catalogue out of it.
     *
     * @return string path of the dump
     *
     * @throws BackupRefused
     */
    public function unpack(string $folder): string
    {
        $refused = BackupRefused::noBackup($this->path, 'its catalogue is damaged');
        self::tar(['-xf', $this->path, '-C', $folder, '--no-same-owner', self::DUMP], $refused);
        if (!is_file(self::dumpIn($folder)) || hash_file('sha256', self::dumpIn($folder)) !== $this->digest) {
            throw $refused;
        }

        return self::dumpIn($folder);
    }

    /** @param list<string> $arguments */
    private static function tar(array $arguments, BackupRefused $refused): string
    {
        $process = new Process(['tar', ...$arguments], timeout: 3600);
        $process->run();

        return $process->isSuccessful() ? $process->getOutput() : throw $refused;
    }
}
