<?php

namespace App\Http\Controllers;

use App\Approvals\Approvals;
use App\Experiments\GoalTakeover;
use App\Http\Requests\GoalRequest;
use App\Http\Resources\GoalResource;
use App\Http\Resources\TrialResource;
use App\Measures\GoalStore;
use App\Measures\RunGoalTrial;
use App\Measures\Trials;
use App\Models\Goal;
use App\Models\Site;
use App\Models\Trial;
use App\Publishing\Publisher;
use Illuminate\Http\JsonResponse;
use Illuminate\Http\Request;
use Illuminate\Http\Resources\Json\AnonymousResourceCollection;
use Illuminate\Http\Response;

/** The goals of a site. */
class GoalController extends Controller
{
    public function __construct(private readonly GoalStore $store, private readonly Publisher $publisher)
    {
    }

    public function index(Site $site): AnonymousResourceCollection
    {
        return GoalResource::collection($site->goals()->with('revisions', 'experiments')->orderBy('name')->get());
    }

    public function store(GoalRequest $request, Site $site): JsonResponse
    {
        $goal = $this->store->create($site, $request->goal(), $request->user());

        $this->watched($request, $site);

        return (new GoalResource($goal))->response()->setStatusCode(201);
    }

    public function show(Site $site, Goal $goal): GoalResource
    {
        return new GoalResource($goal);
    }

    public function update(GoalRequest $request, Site $site, Goal $goal, GoalTakeover $takeover): GoalResource
    {
        $keepFormer = $request->validate(['keep_former' => ['nullable', 'array', 'list', 'max:200'], 'keep_former.*' => ['string', 'max:60', 'ascii']])['keep_former'] ?? [];

        $changed = $takeover->change($site, $goal, $request->goal($goal->key), $keepFormer, $request->user());
        $this->watched($request, $site);

        return new GoalResource($changed);
    }

    public function destroy(Request $request, Site $site, Goal $goal): Response
    {
        $this->store->delete($goal);
        $this->watched($request, $site);

        return response()->noContent();
    }

    /** Which parts of pages browsers watch follows from the goals: at once where the person may publish alone, and else with the next publication. */
    private function watched(Request $request, Site $site): void
    {
        if (Approvals::mayAlone($request->user(), $site)) {
            $this->publisher->publish($site);
        }
    }

    /** Tries a goal that is being written; nothing is kept. */
    public function try(GoalRequest $request, Site $site, Trials $trials): JsonResponse
    {
        return (new TrialResource($trials->start($site, 'goal', $request->goal('trial')->toArray(), $request->user(), RunGoalTrial::class)))->response()->setStatusCode(202);
    }

    public function trial(Request $request, Site $site, Trial $trial): TrialResource
    {
        abort_unless($trial->kind === 'goal', 404);

        return new TrialResource($trial);
    }
}
