<?php

declare(strict_types=1);

namespace Velvet\Core\Tests\Capture;

/**
 * A drive with a bad sector, as a stream wrapper: `badsector://OFFSET/absolute/path` fails when that offset is read.
 */
final class FailingDrive
{
    /** @var resource|null set by PHP */
    public $context;

    /** @var resource */
    private $handle;
    private int $badSector = 0;

    public static function path(string $path, int $badSector): string
    {
        if (!\in_array('badsector', stream_get_wrappers(), true)) {
            stream_wrapper_register('badsector', self::class);
        }

        return 'badsector://'.$badSector.$path;
    }

    public function stream_open(string $path, string $mode): bool
    {
        \assert('r' === $mode, 'cards are opened for reading');
        [$offset, $file] = explode('/', substr($path, \strlen('badsector://')), 2);
        $handle = fopen('/'.$file, 'r');
        \assert(false !== $handle);
        $this->handle = $handle;
        $this->badSector = (int) $offset;

        return true;
    }

    public function stream_read(int $count): string|false
    {
        $from = (int) ftell($this->handle);
        if ($from + $count > $this->badSector && $from < $this->badSector + 512) {
            trigger_error(
                \sprintf('fread(): Read of %d bytes failed with errno=5 Input/output error', $count),
                \E_USER_NOTICE,
            );

            return false;
        }

        return fread($this->handle, max(1, $count));
    }

    public function stream_seek(int $offset, int $whence): bool
    {
        return 0 === fseek($this->handle, $offset, $whence);
    }

    public function stream_tell(): int
    {
        return (int) ftell($this->handle);
    }

    public function stream_eof(): bool
    {
        return feof($this->handle);
    }

    /** @return array<int|string, int>|false */
    public function stream_stat(): array|false
    {
        return fstat($this->handle);
    }

    public function stream_set_option(): bool
    {
        return false;
    }
}
