<?php

/*
 * The framework's own settings, but for two: a job may take as long as the worker lets it (bin/lib/services.sh) before another
 * one takes it for lost, and none begins before what it is about is in the database.
 */
return [
    'connections' => [
        'database' => [
            'driver' => 'database',
            'table' => 'jobs',
            'queue' => 'default',
            'retry_after' => 180,
            'after_commit' => false,
        ],
        'redis' => [
            'driver' => 'redis',
            'connection' => 'default',
            'queue' => 'default',
            'retry_after' => 180,
            'block_for' => null,
            'after_commit' => true,
        ],
    ],
];
