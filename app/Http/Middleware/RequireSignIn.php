<?php

namespace App\Http\Middleware;

use App\SignIn\Current;
use Closure;
use Illuminate\Http\Request;
use Symfony\Component\HttpFoundation\Response;

/** Guards what only a person may do who has signed in, and no token: accounts, people, keys. */
class RequireSignIn
{
    public function __construct(private readonly Current $current)
    {
    }

    public function handle(Request $request, Closure $next): Response
    {
        abort_if($this->current->get() === null, 403, 'A token may not do this. Sign in, and do it in the interface.');

        return $next($request);
    }
}
