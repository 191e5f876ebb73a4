<?php

declare(strict_types=1);

namespace Velvet\Server\Console;

use Symfony\Component\DependencyInjection\Attribute\Autowire;

/** A second process that copies an intake's files beside this one: one reads from the card while the other verifies. */
final class SecondHand
{
    /** @var resource|null */
    private $process;

    public function __construct(
        #[Autowire('%kernel.project_dir%')]
        private readonly string $root,
    ) {
    }

    public function begin(int $intake, bool $keepGoing): void
    {
        $process = proc_open(
            [
                \PHP_BINARY, ...self::settings(), $this->root.'/bin/console', 'velvet:second-hand', (string) $intake,
                (string) getmypid(), ...($keepGoing ? ['--keep-going'] : []),
            ],
            [['file', '/dev/null', 'r'], ['file', '/dev/null', 'w'], \STDERR],
            $pipes,
        );
        $this->process = \is_resource($process) ? $process : null; // alone it takes longer
    }

    /** Waits for what it has in hand. */
    public function end(): void
    {
        if (null !== $this->process) {
            proc_close($this->process);
            $this->process = null;
        }
    }

    /** @return list<string> of PHP, as this process has them */
    private static function settings(): array
    {
        $settings = [];
        foreach (['memory_limit', 'opcache.enable_cli', 'opcache.file_cache_only', 'opcache.file_cache'] as $name) {
            $value = \ini_get($name);
            array_push($settings, ...(false === $value ? [] : ['-d', $name.'='.$value]));
        }

        return $settings;
    }
}
