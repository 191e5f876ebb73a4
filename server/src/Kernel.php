<?php

declare(strict_types=1);

namespace Velvet\Server;

use Symfony\Bundle\FrameworkBundle\Kernel\MicroKernelTrait;
use Symfony\Component\HttpKernel\Kernel as BaseKernel;

final class Kernel extends BaseKernel
{
    use MicroKernelTrait;

    /** The environment is set by the script `velvet`; without it the code runs as a developer would expect. */
    public static function fromEnvironment(): self
    {
        umask(0o022);
        ini_set('date.timezone', LocalZone::name());
        date_default_timezone_set(LocalZone::name());

        return new self(self::variable('APP_ENV', 'prod'), '1' === self::variable('APP_DEBUG', '0'));
    }

    public function getProjectDir(): string
    {
        return \dirname(__DIR__);
    }

    public function getCacheDir(): string
    {
        return self::home().'/cache/'.$this->environment;
    }

    public function getLogDir(): string
    {
        return self::home().'/log';
    }

    /** Absolute path of the folder that holds database, pictures and everything else this instance keeps. */
    public static function home(): string
    {
        return self::variable('VELVET_HOME', \dirname(__DIR__, 2).'/var/home');
    }

    private static function variable(string $name, string $default): string
    {
        $value = $_SERVER[$name] ?? getenv($name);

        return \is_string($value) && '' !== $value ? $value : $default;
    }
}
