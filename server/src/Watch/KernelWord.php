<?php

declare(strict_types=1);

namespace Velvet\Server\Watch;

/**
 * Waits until the kernel says that a card or a drive may have come or gone: that something was mounted or unmounted
 * (`/proc/self/mountinfo` has an exceptional condition then; proc(5)), or that a folder came into a bay or left it
 * (inotify(7)). File systems of other computers say nothing: who waits looks now and then all the same.
 */
final class KernelWord
{
    private const LIBRARY = 'libc.so.6';
    private const MOUNTS = '/proc/self/mountinfo';
    private const NOT_BLOCKING = 0o4000; // IN_NONBLOCK
    /** IN_MOVED_FROM, IN_MOVED_TO, IN_CREATE, IN_DELETE, IN_DELETE_SELF */
    private const COMES_OR_GOES = 0x40 | 0x80 | 0x100 | 0x200 | 0x400;
    private const MOST_BYTES = 65_536; // of events that are taken at once

    /** @var resource|null */
    private $mounts;
    /** @var resource|null of inotify */
    private $folders;

    /** @param list<string> $bays folders; those that are not there are seen by looking only */
    public function __construct(array $bays)
    {
        $mounts = @fopen(self::MOUNTS, 'r');
        $this->mounts = false === $mounts ? null : $mounts;
        if (null !== $this->mounts) {
            stream_get_contents($this->mounts); // what was there before is no news
        }
        $this->folders = self::watch($bays);
    }

    /**
     * @param float $seconds at most
     *
     * @return bool whether the kernel said anything
     */
    public function wait(float $seconds): bool
    {
        $read = array_filter([$this->folders], is_resource(...));
        $except = array_filter([$this->mounts], is_resource(...));
        $write = [];
        if ([] === $read && [] === $except) {
            usleep((int) ($seconds * 1e6));

            return false;
        }
        // a signal ends it, too
        $said = @stream_select($read, $write, $except, (int) $seconds, (int) (fmod($seconds, 1) * 1e6));
        if (false === $said || 0 === $said) {
            return false;
        }
        if ([] !== $read && null !== $this->folders) {
            fread($this->folders, self::MOST_BYTES);
        }
        if ([] !== $except && null !== $this->mounts) {
            rewind($this->mounts);
            stream_get_contents($this->mounts);
        }

        return true;
    }

    /**
     * @param list<string> $bays
     *
     * @return resource|null
     */
    private static function watch(array $bays)
    {
        try {
            $fd = \FFI::cdef('int inotify_init1(int flags);', self::LIBRARY)->inotify_init1(self::NOT_BLOCKING);
            $events = $fd < 0 ? false : @fopen('php://fd/'.$fd, 'r');
            if (false === $events) {
                return null;
            }
            stream_set_read_buffer($events, 0);
            $c = \FFI::cdef('int inotify_add_watch(int fd, const char *path, unsigned int mask);', self::LIBRARY);
            foreach ($bays as $bay) {
                $c->inotify_add_watch($fd, $bay, self::COMES_OR_GOES);
            }

            return $events;
        } catch (\FFI\Exception) {
            return null;
        }
    }
}
