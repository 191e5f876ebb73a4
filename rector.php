<?php

declare(strict_types=1);

use Rector\CodeQuality\Rector\Catch_\ThrowWithPreviousExceptionRector;
use Rector\Config\RectorConfig;
use Rector\DeadCode\Rector\Node\RemoveNonExistingVarAnnotationRector;
use Rector\Php81\Rector\Property\ReadOnlyPropertyRector;

/** Mends what PHP 8.2 says shorter, what is dead, and what lacks a type; taste is left to people. */
return RectorConfig::configure()
    ->withPaths([__DIR__.'/core', __DIR__.'/server', __DIR__.'/demo', __DIR__.'/bench'])
    ->withSkip([
        __DIR__.'/server/config/reference.php',
        __DIR__.'/server/migrations',
        RemoveNonExistingVarAnnotationRector::class, // PHPStan reads them above assignments, too
        // Doctrine sets what the constructor set before: an id, for one
        ReadOnlyPropertyRector::class => [
            __DIR__.'/core/src/Copy/Transfer.php', __DIR__.'/core/src/Filed/FiledFile.php',
        ],
    ])
    ->withCache(__DIR__.'/var/rector')
    ->withPhpSets(php82: true)
    ->withPreparedSets(deadCode: true)
    ->withRules([
        ThrowWithPreviousExceptionRector::class,
    ]);
