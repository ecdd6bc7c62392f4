<?php

namespace App\Http\Middleware;

use App\Approvals\Approvals;
use App\Logbook\SecurityLog;
use Closure;
use Illuminate\Http\Request;
use Pellix\Core\SignIn\SecurityMatter;
use Symfony\Component\HttpFoundation\Response;

/** On a site that wants two people, what pages run is published only as the answer to what somebody else has asked for; who published is written down on every site. */
class AskFirst
{
    public function __construct(private readonly Approvals $approvals, private readonly SecurityLog $log)
    {
    }

    public function handle(Request $request, Closure $next): Response
    {
        $site = $request->route('site');
        $asked = $this->approvals->before($request, $site);
        $response = $next($request);
        if ($response->isSuccessful()) {
            $asked === null || $this->approvals->done($site, $asked, $request->user());
            $this->log->note(SecurityMatter::Published, $request->user(), $site, Approvals::title($request, $site));
        }

        return $response;
    }
}
