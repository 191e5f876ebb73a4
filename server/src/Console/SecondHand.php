<?php

declare(strict_types=1);

namespace Velvet\Server\Console;

use Symfony\Component\DependencyInjection\Attribute\Autowire;

/**
 * A second process that copies an intake's files beside this one: one reads from the card while the other verifies. It
 * is made ready while the intake is still being settled, and told then which one it is.
 */
final class SecondHand
{
    /** @var resource|null */
    private $process;
    /** @var resource|null where it is told */
    private $told;

    public function __construct(
        #[Autowire('%kernel.project_dir%')]
        private readonly string $root,
    ) {
    }

    public function makeReady(bool $keepGoing): void
    {
        $process = proc_open(
            [
                \PHP_BINARY, ...self::settings(), $this->root.'/bin/console', 'velvet:second-hand',
                (string) getmypid(), ...($keepGoing ? ['--keep-going'] : []),
            ],
            [['pipe', 'r'], ['file', '/dev/null', 'w'], \STDERR],
            $pipes,
        );
        if (\is_resource($process)) { // alone it takes longer
            [$this->process, $this->told] = [$process, $pipes[0]];
        }
    }

    public function begin(int $intake, bool $keepGoing): void
    {
        if (null === $this->process) {
            $this->makeReady($keepGoing);
        }
        if (null !== $this->told) {
            @fwrite($this->told, $intake."\n"); // where it is gone already
            fclose($this->told);
            $this->told = null;
        }
    }

    /** Waits for what it has in hand; where it was told of no intake, it has nothing. */
    public function end(): void
    {
        if (null !== $this->told) {
            fclose($this->told);
        }
        if (null !== $this->process) {
            proc_close($this->process);
        }
        $this->told = $this->process = null;
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
