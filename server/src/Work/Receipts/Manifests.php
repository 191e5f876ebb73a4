<?php

declare(strict_types=1);

namespace Velvet\Server\Work\Receipts;

use Psr\Clock\ClockInterface;
use Psr\Log\LoggerInterface;
use Velvet\Core\Bytes\Digest;
use Velvet\Core\Copy\Drives;
use Velvet\Core\Copy\NameTaken;
use Velvet\Core\Copy\PartFile;
use Velvet\Core\Copy\TransferFailure;
use Velvet\Server\Store\Intake;
use Velvet\Server\Store\Receipts;
use Velvet\Server\Work\Halts\Halts;
use Velvet\Server\Work\Sheets\Sheets;

/**
 * Lays a list of checksums into each shoot's folder, on the shelf and on the twin, where the house style asks for it.
 * Never overwrites one.
 */
final readonly class Manifests
{
    private const MOST_RETRIES = 99;

    public function __construct(
        private Receipts $receipts,
        private Sheets $sheets,
        private ClockInterface $clock,
        private LoggerInterface $logger,
        private Halts $halts,
    ) {
    }

    public function write(Intake $intake): void
    {
        $rules = $this->sheets->styleOf($intake)->copies;
        if (!$rules->manifests) {
            return;
        }
        $lines = $this->receipts->ofIntake($intake->id());
        $drives = $this->halts->drives($intake);
        $seal = $this->receipts->seal($intake->id());
        $folders = array_unique(
            array_filter(
                array_map(static fn ($entry): ?string => $entry->folder, $intake->entries->toArray()),
                is_string(...),
            ),
        );
        foreach ($folders as $folder) {
            foreach (null === $seal ? [] : $intake->shelf()->roots() as $root) {
                $this->place(
                    $root.'/'.$folder.'/checksums-intake-'.$intake->id(),
                    '.seal',
                    $seal?->text() ?? '',
                    $drives,
                    $root,
                );
            }
            foreach (array_filter([ReceiptFormat::Xxh128, ReceiptFormat::ofSecond($rules->second)]) as $format) {
                $list = $format->of($lines, $this->clock->now(), $folder);
                foreach ('' === $list ? [] : $intake->shelf()->roots() as $root) {
                    $this->place(
                        $root.'/'.$folder.'/checksums-intake-'.$intake->id(),
                        '.'.$format->value,
                        $list,
                        $drives,
                        $root,
                    );
                }
            }
        }
    }

    private function place(string $path, string $extension, string $content, Drives $drives, string $root): void
    {
        for ($n = 1; $n <= self::MOST_RETRIES; ++$n) {
            $part = null;
            try {
                $target = $path.(1 === $n ? '' : '-'.$n).$extension;
                $part = PartFile::create($target, 'checksums', $drives->grounds([$root => $target])[$target]);
                $part->write($content);
                $part->finish($this->clock->now()->getTimestamp());
                $part->sync();
                $part->place(Digest::ofBytes($content));

                return;
            } catch (NameTaken) {
                continue; // failed files were tried again: the list is another one now
            } catch (TransferFailure $e) {
                $this->logger->warning('Checksums not written: {why}', ['why' => $e->getMessage()]);

                return;
            } finally {
                $part?->discard();
            }
        }
    }
}
