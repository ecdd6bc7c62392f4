<?php

$own = parse_url((string) env('APP_URL', 'http://localhost'));
$port = isset($own['port']) ? ":{$own['port']}" : '';

return [
    // The interface signs in with a session from these hosts; everybody else needs a token.
    'stateful' => array_values(array_unique([($own['host'] ?? 'localhost').$port, "localhost{$port}", "127.0.0.1{$port}"])),
    'guard' => ['web'],
    'expiration' => null,
    'token_prefix' => 'pellix_',
    'middleware' => [
        // A change of the password ends sign-ins itself (App\SignIn\SignIns).
        'authenticate_session' => null,
        'encrypt_cookies' => Illuminate\Cookie\Middleware\EncryptCookies::class,
        'validate_csrf_token' => Illuminate\Foundation\Http\Middleware\ValidateCsrfToken::class,
    ],
];
