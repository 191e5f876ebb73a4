<?php

declare(strict_types=1);

namespace Velvet\Server\Work\Pictures;

use Symfony\Component\Process\Exception\ProcessTimedOutException;
use Symfony\Component\Process\Process;

/**
 * Decodes a raw file that has no picture inside, with LibRaw at half size, in a child process: a crafted file can take
 * down the child and nothing else. The child may not use more memory, time or files than a raw needs, and writes no
 * file.
 */
final readonly class RawDecoder
{
    private const MOST_SECONDS = 20;
    private const MOST_MEMORY = 2_000_000_000; // bytes of address space

    /**
     * @return string an encoded picture (TIFF)
     *
     * @throws PictureUndrawable
     */
    public function decode(string $file): string
    {
        $process = new Process(
            [
                'prlimit',
                '--as='.self::MOST_MEMORY,
                '--cpu='.self::MOST_SECONDS,
                '--nofile=32',
                '--fsize=0',
                'dcraw_emu',
                '-h',
                '-w',
                '-T',
                '-Z',
                '-',
                $file,
            ],
            '/',
            ['PATH' => '/usr/bin:/bin'],
            null,
            self::MOST_SECONDS,
        );
        try {
            $process->run();
        } catch (ProcessTimedOutException) {
            throw PictureUndrawable::because('decoding it took too long');
        }
        if (!$process->isSuccessful() || '' === $process->getOutput()) {
            throw PictureUndrawable::noneInside();
        }

        return $process->getOutput();
    }
}
