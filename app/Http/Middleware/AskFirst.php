<?php

namespace App\Http\Middleware;

use App\Approvals\Approvals;
use Closure;
use Illuminate\Http\Request;
use Symfony\Component\HttpFoundation\Response;

/** On a site that wants two people, what pages run is published only as the answer to what somebody else has asked for. */
class AskFirst
{
    public function __construct(private readonly Approvals $approvals)
    {
    }

    public function handle(Request $request, Closure $next): Response
    {
        $site = $request->route('site');
        $asked = $this->approvals->before($request, $site);
        $response = $next($request);
        if ($asked !== null && $response->isSuccessful()) {
            $this->approvals->done($site, $asked, $request->user());
        }

        return $response;
    }
}
