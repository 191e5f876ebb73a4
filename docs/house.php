<?php

declare(strict_types=1);

// Draws docs/house.svg from the code: the folders in their order, and which uses which (their imports):
// php docs/house.php, or with --check: whether the picture is of this code.

use Velvet\Core\Tests\Walls;

require dirname(__DIR__).'/vendor/autoload.php';

/** What stands in each folder, in a few words; a folder without them is a mistake. */
const WORDS = [
    'Bytes' => 'ranges, digests, fingerprints', 'Drive' => 'drives, mounts, stamps', 'Card' => 'files become frames',
    'Capture' => 'facts, embedded pictures', 'Shoot' => 'frames become entries', 'Naming' => 'pieces and patterns',
    'Metadata' => 'what a frame says', 'Keyword' => 'the word list', 'Style' => 'the house style',
    'Plan' => 'folders, names, room', 'Copy' => 'files on their way, verified', 'Dng' => 'raw samples and their proof',
    'Filed' => 'filed files, clearance', 'Ledger' => 'lines, seals, receipts',
    'Store' => 'entities, repositories, locks', 'Work' => 'what is done', 'Watch' => 'bays, drives, the feed',
    'Http' => 'controllers and views', 'Console' => 'headless commands',
];
const HEIGHT = 34;
const STEP = 46;
const TOP = 70;
const WIDTH = 285;

/** One frame's way: the folder, and what happens there. */
const WAY = [
    ['Card', 'the files of one exposure become a frame'],
    ['Capture', 'its facts, its picture and its fingerprint are read'],
    ['Filed', 'is it filed already? by fingerprint, then to the last byte'],
    ['Shoot', 'it comes into an entry, by day, pause and clock'],
    ['Plan', 'Style and Naming give it a folder and a name'],
    ['Copy', 'each file is copied, synced, read back, compared, named'],
    ['Dng', 'a raw file becomes DNG where that is wanted, every sample proven'],
    ['Filed', 'it is filed in its places; Metadata writes what it says'],
    ['Ledger', 'a sealed line for each; then its card may be cleared'],
];

/** @return array<string, array<string, true>> for each folder those that its files import */
function uses(string $in, string $namespace): array
{
    $uses = [];
    /** @var SplFileInfo $file */
    $all = new RecursiveDirectoryIterator($in, FilesystemIterator::SKIP_DOTS);
    foreach (new RecursiveIteratorIterator($all) as $file) {
        $own = explode('/', substr($file->getPathname(), strlen($in) + 1))[0];
        if ('php' === $file->getExtension() && !str_ends_with($own, '.php')) {
            preg_match_all(
                '/^use '.preg_quote($namespace, '/').'(\w+)\\\\/m',
                (string) file_get_contents($file->getPathname()),
                $found,
            );
            foreach ($found[1] as $other) {
                $uses[$own] = ($uses[$own] ?? []) + ($other === $own ? [] : [$other => true]);
            }
        }
    }

    return $uses;
}

/**
 * A column of folders, the first one on top, and an arc from each to those that it uses.
 *
 * @param list<string>                       $folders
 * @param array<string, array<string, true>> $uses
 */
function column(string $title, array $folders, array $uses, int $x): string
{
    $place = array_flip($folders);
    $svg = sprintf('<text class="title" x="%d" y="%d">%s</text>', $x, TOP - 26, $title);
    foreach ($folders as $n => $folder) {
        $y = TOP + $n * STEP;
        $svg .= sprintf('<rect x="%d" y="%d" width="%d" height="%d" rx="3"/>', $x, $y, WIDTH, HEIGHT)
            .sprintf('<text class="name" x="%d" y="%d">%s</text>', $x + 12, $y + 22, $folder)
            .sprintf('<text class="words" x="%d" y="%d">%s</text>', $x + 98, $y + 22, WORDS[$folder]);
        $steps = array_keys(array_filter(WAY, static fn (array $step): bool => $step[0] === $folder));
        $svg .= [] === $steps ? '' : sprintf(
            '<text class="step" x="%d" y="%d">%s</text>',
            $x - 10,
            $y + 22,
            implode(' ', array_map(static fn (int $step): int => $step + 1, $steps)),
        );
        foreach (array_keys($uses[$folder] ?? []) as $other) {
            $up = $n - $place[$other];
            $svg .= sprintf(
                '<path d="M%1$d %2$d C%3$d %2$d %3$d %4$d %1$d %4$d"/>',
                $x + WIDTH,
                $y + HEIGHT / 2 - 5,
                $x + WIDTH + 22 + 11 * $up,
                TOP + $place[$other] * STEP + HEIGHT / 2 + 5,
            );
        }
    }

    return $svg."\n";
}

/** @param list<string> $lines */
function lines(int $x, int $y, string $class, array $lines): string
{
    return implode('', array_map(
        static fn (string $line, int $n): string => sprintf(
            '<text class="%s" x="%d" y="%d">%s</text>',
            $class,
            $x,
            $y + 23 * $n,
            $line,
        ),
        $lines,
        array_keys($lines),
    ))."\n";
}

/** @return list<string> */
function folders(string $constant): array
{
    $folders = (new ReflectionClass(Walls::class))->getConstant($constant);

    return array_values(array_filter(is_array($folders) ? $folders : [], is_string(...)));
}

function house(): string
{
    $root = dirname(__DIR__);
    [$core, $server] = [folders('CORE'), folders('SERVER')];
    $height = TOP + count($core) * STEP + 10;
    $right = 50 + WIDTH + 170;

    return <<<SVG
        <svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 960 {$height}" role="img"
            aria-label="The folders of the house and which uses which">
        <style>
        svg { background: #fbfaf7; font-family: system-ui, sans-serif; }
        rect { fill: #fff; stroke: #b9b2a6; }
        path { fill: none; stroke: #8a6d2f; stroke-opacity: .38; stroke-width: 1.3; }
        .title { font-size: 15px; font-weight: 600; fill: #2b2824; }
        .name { font-size: 13.5px; font-weight: 600; fill: #2b2824; }
        .step { font-size: 13px; font-weight: 600; fill: #8a6d2f; text-anchor: end; }
        .words { font-size: 12px; fill: #6b645a; } .aside { font-size: 12.5px; fill: #6b645a; }
        </style>

        SVG
        .column('core: the job, in plain PHP', $core, uses($root.'/core/src', 'Velvet\\Core\\'), 50)
        .column('server: translates', $server, uses($root.'/server/src', 'Velvet\\Server\\'), $right)
        .lines($right, TOP + count($server) * STEP + 24, 'aside', [
            'A line goes from a folder to one that it uses; every line goes up',
            '(core/tests/Walls.php). The server uses the core, which knows nothing',
            'of it; web/ knows server/openapi.yaml alone.',
        ])
        .lines($right, TOP + count($server) * STEP + 116, 'title', ['One frame’s way'])
        .lines($right, TOP + count($server) * STEP + 144, 'aside', array_map(
            static fn (array $step, int $n): string => sprintf('%d  %s', $n + 1, $step[1]),
            WAY,
            array_keys(WAY),
        ))
        ."\n</svg>\n";
}

$at = __DIR__.'/house.svg';
if (in_array('--check', $argv, true)) {
    exit(house() === file_get_contents($at) ? 0 : 1);
}
file_put_contents($at, house());
