<?php

declare(strict_types=1);

namespace Velvet\Server\Work\Pictures;

use Symfony\Component\DependencyInjection\Attribute\Autowire;
use Symfony\Component\Process\Exception\ProcessTimedOutException;
use Symfony\Component\Process\PhpExecutableFinder;
use Symfony\Component\Process\Process;

/**
 * Decodes what has no picture inside that could be shown as it is, in a child process that is shut in: a crafted file
 * can take down the child and nothing else.
 */
final readonly class Decoder
{
    private const MOST_SECONDS = 20;

    public function __construct(#[Autowire('%kernel.project_dir%')] private string $project)
    {
    }

    /**
     * A raw file at half or full size, by LibRaw (`server/bin/raw-developed`).
     *
     * @return resource a file of no name that holds an encoded picture (TIFF); it is gone when it is closed
     *
     * @throws PictureUndrawable
     */
    public function raw(string $file, bool $half)
    {
        return $this->decode('raw-developed', $half ? 'half' : 'full', $file);
    }

    /**
     * A still from the beginning of a movie, by ffmpeg (`server/bin/recording-still`).
     *
     * @return resource as for {@see self::raw()}, but PPM
     *
     * @throws PictureUndrawable
     */
    public function movie(string $file)
    {
        return $this->decode('recording-still', 'movie', $file);
    }

    /**
     * How loud a sound is over its time, drawn by ffmpeg (`server/bin/recording-still`).
     *
     * @return resource as for {@see self::movie()}
     *
     * @throws PictureUndrawable
     */
    public function sound(string $file)
    {
        return $this->decode('recording-still', 'sound', $file);
    }

    /**
     * @return resource
     *
     * @throws PictureUndrawable
     */
    private function decode(string $program, string ...$arguments)
    {
        $process = new Process(
            // asked by a page, this process is no program that runs a script
            [(new PhpExecutableFinder())->find(false), $this->project.'/bin/'.$program, ...$arguments],
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
