<?php

declare(strict_types=1);

// Measures, beside another program in the same run: php bench/run.php [NAME]. Called by ./velvet bench.

use Velvet\Bench\BackupBench;
use Velvet\Bench\CardBench;
use Velvet\Bench\CopyBench;
use Velvet\Bench\DngBench;
use Velvet\Bench\EditsBench;
use Velvet\Bench\IntakeBench;
use Velvet\Bench\KeywordsBench;
use Velvet\Bench\LookBench;
use Velvet\Bench\MetadataBench;
use Velvet\Bench\PicturesBench;
use Velvet\Bench\ScreensBench;
use Velvet\Bench\SheetBench;

require dirname(__DIR__).'/vendor/autoload.php';

$benches = [
    'backup' => new BackupBench(),
    'card' => new CardBench(),
    'copy' => new CopyBench(),
    'dng' => new DngBench(),
    'pictures' => new PicturesBench(),
    'edits' => new EditsBench(),
    'intake' => new IntakeBench($argv[2] ?? null),
    'keywords' => new KeywordsBench(),
    'look' => new LookBench(),
    'metadata' => new MetadataBench(),
    'screens' => new ScreensBench(),
    'sheet' => new SheetBench(),
];
$wanted = $argv[1] ?? null;
if (null !== $wanted && !isset($benches[$wanted])) {
    fwrite(
        \STDERR,
        sprintf("There is no benchmark “%s”. There are: %s.\n", $wanted, implode(', ', array_keys($benches))),
    );
    exit(2);
}
$folder = sys_get_temp_dir().'/velvet-bench-'.getmypid();
mkdir($folder);
try {
    foreach (null === $wanted ? $benches : [$wanted => $benches[$wanted]] as $name => $bench) {
        foreach ($bench->run($folder) as $line) {
            echo $name, ': ', $line, "\n";
        }
    }
} finally {
    exec('rm -rf '.escapeshellarg($folder));
}
