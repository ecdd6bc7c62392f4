<?php

namespace App\Http\Middleware;

use App\Rights\Right;
use Closure;
use Illuminate\Http\Request;
use Illuminate\Support\Facades\Gate;
use Symfony\Component\HttpFoundation\Response;

/** Guards a route below a site: a person who does not look after it learns not even that it exists. */
class RequireRight
{
    public function handle(Request $request, Closure $next, string $right): Response
    {
        $site = $request->route('site');
        abort_unless(Gate::allows(Right::Look->value, $site), 404);
        abort_unless(Gate::allows($right, $site), 403, "This needs the right to {$right} on the site; ask whoever owns it.");

        return $next($request);
    }
}
