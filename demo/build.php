<?php

declare(strict_types=1);

// Builds the demo's cards: php demo/build.php FOLDER

use Velvet\Demo\Builder;

require dirname(__DIR__).'/vendor/autoload.php';

$folder = $argv[1] ?? exit("Say where to: php demo/build.php FOLDER\n");
$since = microtime(true);
$unfinished = $folder.'.unfinished';
exec('rm -rf '.escapeshellarg($unfinished));
(new Builder($unfinished))->build(max(1, (int) shell_exec('nproc')));
exec('rm -rf '.escapeshellarg($folder));
rename($unfinished, $folder);
touch($folder.'/built');
printf("Demo: drawn in %.0f s\n", microtime(true) - $since);
