<?php

namespace App\Http\Middleware;

use App\Approvals\Approvals;
use App\Logbook\SecurityLog;
use App\Models\Site;
use Closure;
use Illuminate\Http\Request;
use Illuminate\Support\Facades\Gate;
use Pellix\Core\Rights\Right;
use Pellix\Core\SignIn\SecurityMatter;
use Symfony\Component\HttpFoundation\Response;

/** Guards a route below a site, before anything of it is looked for: a person who does not look after it learns not even that it exists. */
class RequireRight
{
    public function __construct(private readonly SecurityLog $log, private readonly Approvals $approvals)
    {
    }

    public function handle(Request $request, Closure $next, string $right): Response
    {
        $site = Site::named($request->route('site'));
        abort_if($site === null, 404);
        $request->route()->setParameter('site', $site);
        if (! Gate::allows(Right::Look->value, $site)) {
            $this->log->note(SecurityMatter::RightRefused, $request->user(), note: "A site that they do not look after: {$request->method()} {$request->path()}");
            abort(404);
        }
        if (! Gate::allows($right, $site)) {
            $this->log->note(SecurityMatter::RightRefused, $request->user(), $site, "{$right}: {$request->method()} {$request->path()}");
            if ($right === Right::Publish->value && Gate::allows(Right::Work->value, $site)) {
                return $this->approvals->refusal($site, $request->user(), 'You may prepare this; somebody who may publish does it.');
            }
            abort(403, "This needs the right to {$right} on the site; ask whoever owns it.");
        }
        abort_if($site->archived_at !== null && $right !== Right::Look->value && ! $request->isMethodSafe() && ! str_ends_with($request->path(), '/archived') && ! $request->routeIs('site.delete'), 409, 'This site is archived. Its owner takes it from the archive first.');

        return $next($request);
    }
}
