<?php

declare(strict_types=1);

// One part of the DNG benchmark, in a process of its own with the JIT as it is in production: php bench/dng-part.php
// encode|convert RAW [TO]

use Velvet\Core\Bytes\FileBytes;
use Velvet\Core\Dng\Conversion;
use Velvet\Core\Dng\DngWriter;
use Velvet\Core\Dng\LibRaw;
use Velvet\Core\Dng\LosslessJpegEncoder;
use Velvet\Core\Dng\RawFile;

require dirname(__DIR__).'/vendor/autoload.php';

$raw = $argv[2] ?? '';
if ('convert' === ($argv[1] ?? '')) {
    Conversion::of($raw, $argv[3] ?? '', libRaw: LibRaw::load(), cores: max(1, (int) ($argv[4] ?? 1)));
    exit(0);
}
$image = RawFile::open(FileBytes::open($raw))->image();
$since = hrtime(true);
$tiles = (new DngWriter(new LosslessJpegEncoder()))->tiles($image);
echo json_encode(
    [
        'samples' => intdiv(strlen($image->samples), 2),
        'seconds' => (hrtime(true) - $since) / 1e9,
        'bytes' => array_sum(array_map(strlen(...), $tiles)),
        'predictor' => ord(substr($tiles[0], (int) strpos($tiles[0], "\xFF\xDA") + 9, 1)),
    ],
    \JSON_THROW_ON_ERROR,
), "\n";
