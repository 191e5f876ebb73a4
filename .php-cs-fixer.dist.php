<?php

declare(strict_types=1);

return (new PhpCsFixer\Config())
    ->setCacheFile(__DIR__.'/var/php-cs-fixer.cache')
    ->setRiskyAllowed(true)
    ->setRules([
        '@Symfony' => true,
        '@Symfony:risky' => true,
        'declare_strict_types' => true,
        'strict_comparison' => true,
        'method_argument_space' => ['on_multiline' => 'ignore'],
        'phpdoc_align' => false,
        'phpdoc_separation' => false,
        'phpdoc_to_comment' => false,
        'single_line_throw' => false,
        'trailing_comma_in_multiline' => ['elements' => ['arguments', 'arrays', 'match', 'parameters']],
    ])
    ->setFinder(PhpCsFixer\Finder::create()
        ->in([__DIR__.'/core', __DIR__.'/server', __DIR__.'/demo', __DIR__.'/bench'])
        ->notPath('config/reference.php')
        ->append([__DIR__.'/server/bin/console']));
