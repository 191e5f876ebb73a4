<?php

declare(strict_types=1);

namespace Velvet\Bench;

/** Measures one thing that we do against another program that does the same, in the same run: machines are noisy. */
interface Bench
{
    /**
     * @param string $folder an empty folder to work in
     *
     * @return iterable<string> lines: ours, the other, ratio
     */
    public function run(string $folder): iterable;
}
