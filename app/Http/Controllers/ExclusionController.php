<?php

namespace App\Http\Controllers;

use App\Audits\ExclusionStore;
use App\Http\Resources\ExclusionResource;
use App\Models\Audit;
use App\Models\Exclusion;
use App\Models\Site;
use Illuminate\Http\JsonResponse;
use Illuminate\Http\Request;
use Illuminate\Http\Resources\Json\AnonymousResourceCollection;

/** What audits of an experiment, or of a log, leave out. */
class ExclusionController extends Controller
{
    public function __construct(private readonly ExclusionStore $store)
    {
    }

    /** All that concern what was audited, also those that were withdrawn. */
    public function index(Site $site, Audit $audit): AnonymousResourceCollection
    {
        return ExclusionResource::collection(Exclusion::concerning($audit->experiment ?? $audit->log ?? abort(404))->get());
    }

    public function store(Request $request, Site $site, Audit $audit): JsonResponse
    {
        $asked = $request->validate([
            'exclusion' => ['required', 'array'],
            'reason' => ['required', 'string', 'max:500'],
            'everywhere' => ['required', 'boolean'],
        ], ['reason.required' => 'Say why, for whoever reads the audit later.']);
        $made = $this->store->make($site, $asked['everywhere'] && $audit->experiment !== null ? null : $audit->experiment ?? $audit->log ?? abort(404), $asked['exclusion'], $asked['reason'], $request->user());

        return (new ExclusionResource($made))->response()->setStatusCode(201);
    }

    /** Withdraws it: the audits after that go without it. */
    public function destroy(Request $request, Site $site, Exclusion $exclusion): ExclusionResource
    {
        $this->store->withdraw($exclusion, $request->user());

        return new ExclusionResource($exclusion);
    }
}
