<?php

declare(strict_types=1);

// Builds the demo's cards: php demo/build.php FOLDER [SCALE]; frames are 1,200 pixels long, times the scale of 2

use Velvet\Demo\Builder;

require dirname(__DIR__).'/vendor/autoload.php';

$folder = $argv[1] ?? exit("Say where to: php demo/build.php FOLDER\n");
$since = microtime(true);
$unfinished = $folder.'.unfinished';
exec('rm -rf '.escapeshellarg($unfinished));
(new Builder($unfinished, max(1, (int) ($argv[2] ?? 2))))->build(max(1, (int) shell_exec('nproc')));
exec('rm -rf '.escapeshellarg($folder));
rename($unfinished, $folder);
touch($folder.'/built');
printf("Demo: drawn in %.0f s\n", microtime(true) - $since);
