<?php

declare(strict_types=1);

namespace Velvet\Server\Work\Pictures;

use Velvet\Core\Capture\Orientation;
use Velvet\Core\Capture\PictureMeasures;
use Velvet\Server\Fence;

/**
 * The far end of {@see Drawers}: a process that draws one picture after another with libvips and is shut in. A crafted
 * picture can take it down, and nothing else: it has no more memory and time than a picture needs, writes no file,
 * reads none but programs, and connects to nobody.
 */
final class Drawer
{
    /** Seconds for one picture, as for a raw file. */
    private const MOST_SECONDS = 20;
    /**
     * Bytes of address space. PHP and libvips take 300 million; a progressive JPEG of 150 megapixels in three full
     * components, of which libjpeg holds every coefficient, takes 900 million.
     */
    private const MOST_MEMORY = 1_250_000_000;
    private const MOST_FILES = 32;
    /** The smallest picture: a PPM of one black pixel. */
    private const BLANK = "P6\n1 1\n255\n\0\0\0";
    private const MOST_WAITING = 128;
    /** It makes room for a fresh one before memory is in too many pieces. */
    private const MOST_PICTURES = 1000;

    /** PR_SET_PDEATHSIG of prctl(2): the signal that comes when the parent ends. */
    private const PARENT_ENDED = 1;

    /**
     * Keeps so many of them running. The socket stays open whatever becomes of them: a call waits while one is started
     * anew.
     *
     * @param string $at the path of the socket, in a folder that only its user reaches
     */
    public static function keepRunning(string $at, int $processes): never
    {
        @unlink($at);
        $listening = socket_create(\AF_UNIX, \SOCK_STREAM, 0);
        if (false === $listening || !socket_bind($listening, $at) || !socket_listen($listening, self::MOST_WAITING)) {
            throw new \RuntimeException(\sprintf('The socket %s cannot be opened.', $at));
        }
        for ($running = 0;; --$running) {
            for (; $running < $processes; ++$running) {
                if (0 === pcntl_fork()) {
                    self::shutIn();
                    self::serve($listening);
                    exit(0);
                }
            }
            pcntl_wait($status);
            if (\is_int($status) && pcntl_wifexited($status) && 0 !== pcntl_wexitstatus($status)) {
                sleep(1); // a fault of ours may come again at once
            }
        }
    }

    private static function shutIn(): void
    {
        \FFI::cdef('int prctl(int option, long value, long a, long b, long c);', 'libc.so.6')
            ->prctl(self::PARENT_ENDED, \SIGKILL, 0, 0, 0);
        $root = \dirname(__DIR__, 4);
        // what libvips loads when it is first used is there before the doors close
        self::draw(
            new DrawingOrder(0, \strlen(self::BLANK), Orientation::AsStored, PictureSize::Strip, true),
            self::blank(),
        );
        Fence::close([$root.'/core', $root.'/server/src', $root.'/vendor', '/usr', '/lib', '/lib64'], null);
        posix_setrlimit(\POSIX_RLIMIT_AS, self::MOST_MEMORY, self::MOST_MEMORY);
        posix_setrlimit(\POSIX_RLIMIT_NOFILE, self::MOST_FILES, self::MOST_FILES);
        posix_setrlimit(\POSIX_RLIMIT_FSIZE, 0, 0);
        posix_setrlimit(\POSIX_RLIMIT_CORE, 0, 0);
    }

    private static function serve(\Socket $listening): void
    {
        for ($drawn = 0; $drawn < self::MOST_PICTURES; ++$drawn) {
            $caller = socket_accept($listening);
            if (false === $caller) {
                return;
            }
            pcntl_alarm(self::MOST_SECONDS); // the signal ends the process, also in the midst of libvips
            [$order, $file] = DrawingOrder::receive($caller) ?? [null, null];
            $stream = socket_export_stream($caller);
            if (null !== $order && null !== $file && false !== $stream) {
                self::draw($order, $file)->write($stream);
            }
            pcntl_alarm(0);
            unset($order, $file, $stream, $caller);
        }
    }

    /** @param resource $file that holds the picture */
    private static function draw(DrawingOrder $order, $file): Drawing
    {
        try {
            $picture = Vips::shrunk($file, $order);
            [$grey, $width] = $order->measured ? $picture->shrink(PictureMeasures::EDGE)->grey() : ['', 0];

            return new Drawing(
                null === $order->size ? '' : $picture->fit($order->size)->jpeg($order->size->quality()),
                $grey,
                $width,
            );
        } catch (PictureUndrawable $e) {
            return Drawing::refused($e->reason);
        }
    }

    /** @return resource a file that holds it */
    private static function blank()
    {
        $file = tmpfile();
        if (false === $file) {
            throw new \RuntimeException('No temporary file can be made.');
        }
        fwrite($file, self::BLANK);

        return $file;
    }
}
