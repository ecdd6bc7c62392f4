<?php

namespace App\Http\Middleware;

use Closure;
use Illuminate\Http\Request;
use Illuminate\Support\Facades\Gate;
use Symfony\Component\HttpFoundation\Response;

/** Guards every route below a site: a person who does not look after it learns not even that it exists. */
class TendsSite
{
    public function handle(Request $request, Closure $next): Response
    {
        abort_unless(Gate::allows('tend', $request->route('site')), 404);

        return $next($request);
    }
}
