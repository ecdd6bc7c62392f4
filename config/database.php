<?php

return [
    'default' => 'mariadb',

    'connections' => [
        'mariadb' => [
            'driver' => 'mariadb',
            'host' => env('DB_HOST', '127.0.0.1'),
            'port' => env('DB_PORT', '3306'),
            'database' => env('DB_DATABASE', 'pellix'),
            'username' => env('DB_USERNAME', 'pellix'),
            'password' => env('DB_PASSWORD', ''),
            'unix_socket' => env('DB_SOCKET', ''),
            'charset' => 'utf8mb4',
            'collation' => 'utf8mb4_unicode_ci',
            'prefix' => '',
            'strict' => true,
            // All times are stored in UTC; the interface shows them in the site's zone.
            'timezone' => '+00:00',
        ],
    ],

    /*
     * Sessions, cache, locks and jobs of several machines. Whoever waits for it waits a moment, and is told so.
     */
    'redis' => [
        'client' => 'predis',
        'options' => ['prefix' => 'pellix:'],
        ...array_map(static fn (int $number): array => [
            'host' => env('REDIS_HOST', '127.0.0.1'),
            'port' => env('REDIS_PORT', '6379'),
            'password' => env('REDIS_PASSWORD'),
            'database' => $number,
            'timeout' => 2.0,
            'read_write_timeout' => 5.0,
        ], ['default' => 0, 'cache' => 1]),
    ],

    'migrations' => ['table' => 'migrations', 'update_date_on_publish' => true],
];
