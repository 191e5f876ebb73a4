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
     * @return resource a file of no name that holds an encoded picture (TIFF); it is gone when it is closed
     *
     * @throws PictureUndrawable
     */
    public function decode(string $file)
    {
        $process = new Process(
            [\PHP_BINARY, $this->project.'/bin/raw-half', $file],
            '/',
            null,
            null,
            self::MOST_SECONDS,
        );
        $process->disableOutput();
        $picture = self::nameless();
        $isWhole = true;
        try {
            $process->run(static function (string $from, string $piece) use ($picture, &$isWhole): void {
                if (Process::OUT === $from) { // piece by piece: it may be larger than this process
                    $isWhole = $isWhole && \strlen($piece) === @fwrite($picture, $piece);
                }
            });
        } catch (ProcessTimedOutException) {
            throw PictureUndrawable::because('decoding it took too long');
        }
        if (!$isWhole) {
            throw PictureUndrawable::because('there is no room for what is made of it');
        }
        if (!$process->isSuccessful() || 0 === ftell($picture)) {
            throw PictureUndrawable::noneInside();
        }

        return $picture;
    }

    /** @return resource open, and without a name: nothing is left of it, however this process ends */
    private static function nameless()
    {
        $name = tempnam(sys_get_temp_dir(), 'velvet');
        $file = false === $name ? false : @fopen($name, 'w+');
        if (false === $name || false === $file) {
            throw PictureUndrawable::because('no temporary file can be made');
        }
        unlink($name);

        return $file;
    }
}
