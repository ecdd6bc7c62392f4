<?php

namespace App\Http\Middleware;

use Closure;
use Illuminate\Http\Request;
use Symfony\Component\HttpFoundation\Response;

/** The interface loads nothing from elsewhere, and nobody may frame it. */
class SecurityHeaders
{
    public function handle(Request $request, Closure $next): Response
    {
        $response = $next($request);
        // What was captured from a site comes with a stricter one.
        $response->headers->has('Content-Security-Policy') || $response->headers->set(
            'Content-Security-Policy',
            "default-src 'self'; style-src 'self' 'unsafe-inline'; img-src 'self' data:; object-src 'none'; base-uri 'none'; "
                ."form-action 'self'; frame-ancestors 'none'",
        );
        $response->headers->set('X-Content-Type-Options', 'nosniff');
        // What only some people may see is kept in no cache, the browser's own neither.
        $request->is('api/*') && $response->headers->set('Cache-Control', 'no-store, private');
        // An address that is https stays it (RFC 6797), for a year.
        str_starts_with((string) config('app.url'), 'https://') && $response->headers->set('Strict-Transport-Security', 'max-age=31536000; includeSubDomains');
        // A view may be stricter: the address of a brief is a secret.
        $response->headers->has('Referrer-Policy') || $response->headers->set('Referrer-Policy', 'same-origin');

        return $response;
    }
}
