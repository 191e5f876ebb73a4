<?php

declare(strict_types=1);

namespace Velvet\Bench;

use Velvet\Core\Transfer\FileToCopy;
use Velvet\Core\Transfer\PageCache;
use Velvet\Core\Transfer\VerifiedCopy;

/** Verified copies to two places, against the careful way by hand: cp to both, sync, cmp both. */
final class CopyBench implements Bench
{
    private const LARGE = [40, 25_000_000];
    private const SMALL = [1000, 20_000];

    public function run(string $folder): iterable
    {
        foreach (['large' => self::LARGE, 'small' => self::SMALL] as $name => [$files, $bytes]) {
            mkdir("$folder/$name/card", 0o755, true);
            for ($n = 0; $n < $files; ++$n) {
                file_put_contents("$folder/$name/card/$n.raw", random_bytes($bytes));
            }
            exec('sync');
            $copy = new VerifiedCopy(new PageCache());
            $ours = Timed::seconds(static function () use ($copy, $folder, $name, $files, $bytes): void {
                for ($n = 0; $n < $files; ++$n) {
                    $copy->copy(new FileToCopy("$folder/$name/card/$n.raw", $bytes, 0, ["$folder/$name/shelf/$n.raw", "$folder/$name/twin/$n.raw"], "b-$n"));
                }
            });
            $at = escapeshellarg("$folder/$name");
            $bare = Timed::shell("cd $at && cp -r card a && cp -r card b && sync");
            $check = Timed::shell("cd $at && for f in card/*; do cmp \$f a/\${f#card/} && cmp \$f b/\${f#card/} || exit 1; done");
            yield \sprintf('%d files of %s kB to two places: ours %.2f s, cp + sync + cmp %.2f s, ratio %.2f; bare double cp + sync %.2f s', $files, number_format($bytes / 1000), $ours, $bare + $check, ($bare + $check) / $ours, $bare);
            exec('rm -rf '.$at);
        }
    }
}
