<?php

declare(strict_types=1);

namespace Velvet\Core\Tests;

/** A folder that lives as long as one test. */
trait TemporaryFolder
{
    protected string $folder;

    protected function setUp(): void
    {
        $this->folder = sys_get_temp_dir().'/velvet-test-'.bin2hex(random_bytes(6));
        mkdir($this->folder);
    }

    protected function tearDown(): void
    {
        exec('chmod -R u+rwx '.escapeshellarg($this->folder).' && rm -rf '.escapeshellarg($this->folder));
    }

    /** Writes a file, with the folders it needs, and gives its absolute path. */
    protected function file(string $path, string $content = 'x'): string
    {
        $absolute = $this->folder.'/'.$path;
        if (!is_dir(\dirname($absolute))) {
            mkdir(\dirname($absolute), 0o777, true);
        }
        file_put_contents($absolute, $content);

        return $absolute;
    }
}
