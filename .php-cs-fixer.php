<?php

return (new PhpCsFixer\Config())
    ->setRules([
        '@PSR12' => true,
        'array_syntax' => ['syntax' => 'short'],
        'concat_space' => ['spacing' => 'none'],
        'no_unused_imports' => true,
        'ordered_imports' => true,
        'single_quote' => true,
        'trailing_comma_in_multiline' => ['elements' => ['arguments', 'arrays', 'match', 'parameters']],
        'no_extra_blank_lines' => true,
        'no_trailing_whitespace' => true,
        'single_line_empty_body' => false,
        'not_operator_with_successor_space' => true,
        'phpdoc_trim' => true,
    ])
    ->setCacheFile(__DIR__.'/var/php-cs-fixer.cache')
    ->setFinder(
        PhpCsFixer\Finder::create()
            ->in([__DIR__.'/app', __DIR__.'/bench', __DIR__.'/bin', __DIR__.'/bootstrap', __DIR__.'/config', __DIR__.'/core', __DIR__.'/database', __DIR__.'/demo/src', __DIR__.'/packages', __DIR__.'/public', __DIR__.'/routes', __DIR__.'/support', __DIR__.'/tests'])
            ->notPath('cache')
            ->name('*.php'),
    );
