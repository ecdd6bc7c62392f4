<?php

/*
 * The framework's own settings, but for what follows from the address: cookies of one that is https go nowhere else (and are called so, RFC 6265bis,
 * section 4.1.3), and no script reads them.
 */
$isSafe = str_starts_with((string) env('APP_URL', ''), 'https://');

return [
    'driver' => env('SESSION_DRIVER', 'database'),
    'lifetime' => (int) env('SESSION_LIFETIME', 1440),
    'expire_on_close' => false,
    'encrypt' => false,
    'files' => storage_path('framework/sessions'),
    'connection' => env('SESSION_CONNECTION'),
    'table' => 'sessions',
    'store' => env('SESSION_STORE'),
    'lottery' => [2, 100],
    'cookie' => ($isSafe ? '__Host-' : '').env('SESSION_COOKIE', 'pellix_session'),
    'path' => '/',
    'domain' => null,
    'secure' => $isSafe,
    'http_only' => true,
    'same_site' => 'lax',
    'partitioned' => false,
];
