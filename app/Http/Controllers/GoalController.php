<?php

namespace App\Http\Controllers;

use App\Http\Requests\GoalRequest;
use App\Http\Resources\GoalResource;
use App\Measures\GoalStore;
use App\Measures\HitKeeper;
use App\Measures\Trial;
use App\Models\Goal;
use App\Models\Site;
use Carbon\CarbonImmutable;
use Illuminate\Http\JsonResponse;
use Illuminate\Http\Resources\Json\AnonymousResourceCollection;
use Illuminate\Http\Response;

/** The goals of a site. */
class GoalController extends Controller
{
    public function __construct(private readonly GoalStore $store)
    {
    }

    public function index(Site $site, HitKeeper $hits): AnonymousResourceCollection
    {
        $hits->catchUp($site);

        return GoalResource::collection($site->goals()->with('revisions', 'experiments')->orderBy('name')->get());
    }

    public function store(GoalRequest $request, Site $site): JsonResponse
    {
        $goal = $this->store->create($site, $request->goal(), $request->user()->name);

        return (new GoalResource($goal))->response()->setStatusCode(201);
    }

    public function show(Site $site, Goal $goal): GoalResource
    {
        return new GoalResource($goal);
    }

    public function update(GoalRequest $request, Site $site, Goal $goal): GoalResource
    {
        return new GoalResource($this->store->change($site, $goal, $request->goal($goal->key), $request->user()->name));
    }

    public function destroy(Site $site, Goal $goal): Response
    {
        $this->store->delete($goal);

        return response()->noContent();
    }

    /** Tries a goal that is being written; nothing is kept. */
    public function try(GoalRequest $request, Site $site, Trial $trial): JsonResponse
    {
        return response()->json($trial->of($site, $request->goal('trial'), CarbonImmutable::now('UTC')));
    }
}
