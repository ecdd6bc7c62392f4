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

    'migrations' => ['table' => 'migrations', 'update_date_on_publish' => true],
];
