<?php

/*
 * How mails leave. A copy that is told nothing keeps them in an outbox that can be read in the application; with MAIL_MAILER=smtp and
 * MAIL_HOST, MAIL_PORT, MAIL_USERNAME, MAIL_PASSWORD they go to a mail server.
 */
return [
    'default' => env('MAIL_MAILER', 'outbox'),

    'mailers' => [
        'outbox' => ['transport' => 'outbox'],
        'smtp' => [
            'transport' => 'smtp',
            'scheme' => env('MAIL_SCHEME'),
            'host' => env('MAIL_HOST', '127.0.0.1'),
            'port' => env('MAIL_PORT', 25),
            'username' => env('MAIL_USERNAME'),
            'password' => env('MAIL_PASSWORD'),
            'timeout' => 10,
            'local_domain' => parse_url((string) env('APP_URL', 'http://localhost'), PHP_URL_HOST),
        ],
    ],

    'from' => ['address' => env('MAIL_FROM_ADDRESS', 'pellix@localhost'), 'name' => env('MAIL_FROM_NAME', 'Pellix')],
];
