<?php

declare(strict_types=1);

namespace Velvet\Server\Work\Pictures;

use Symfony\Component\DependencyInjection\Attribute\Autowire;
use Symfony\Component\Process\Exception\ProcessTimedOutException;
use Symfony\Component\Process\Process;

/**
 * Decodes a raw file that has no picture inside, with LibRaw at half size, in a child process that is shut in
 * (`server/bin/raw-half`): a crafted file can take down the child and nothing else.
 */
final readonly class RawDecoder
{
    private const MOST_SECONDS = 20;

    public function __construct(#[Autowire('%kernel.project_dir%')] private string $project)
    {
    }

    /**
     * @return string an encoded picture (TIFF)
     *
     * @throws PictureUndrawable
     */
    public function decode(string $file): string
    {
        $process = new Process(
            [\PHP_BINARY, $this->project.'/bin/raw-half', $file],
            '/',
            null,
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
