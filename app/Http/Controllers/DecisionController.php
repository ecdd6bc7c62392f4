<?php

namespace App\Http\Controllers;

use App\Experiments\ExperimentStore;
use App\Http\Resources\DecisionResource;
use App\Models\Experiment;
use App\Models\Site;
use App\Readouts\Decisions;
use Illuminate\Http\JsonResponse;
use Illuminate\Http\Request;
use Illuminate\Http\Resources\Json\AnonymousResourceCollection;

/** How experiments are to be decided, and what was decided. */
class DecisionController extends Controller
{
    public function __construct(private readonly Decisions $decisions, private readonly ExperimentStore $store)
    {
    }

    /** What was decided on a site, and what was learned. */
    public function index(Request $request, Site $site): AnonymousResourceCollection
    {
        $search = $request->validate(['search' => ['nullable', 'string', 'max:200']])['search'] ?? '';

        return DecisionResource::collection($this->decisions->search($site, $search));
    }

    public function store(Request $request, Site $site, Experiment $experiment): JsonResponse
    {
        $asked = $request->validate([
            'choice' => ['required', 'string', 'max:60'],
            'because' => ['required', 'string', 'max:2000'],
            'learned' => ['nullable', 'string', 'max:5000'],
            'serves' => ['required', 'boolean'],
        ], ['choice.required' => 'Say which variant is kept.', 'because.required' => 'Say why: a year later somebody wants to know.']);
        $made = $this->decisions->make($experiment->setRelation('site', $site), $asked['choice'], $asked['because'], $asked['learned'] ?? null, (bool) $asked['serves'], $request->user());

        return (new DecisionResource($made))->response()->setStatusCode(201);
    }

    /** Keeps the rule of an experiment that has not started. */
    public function rule(Request $request, Site $site, Experiment $experiment): JsonResponse
    {
        $rule = $request->validate(['rule' => ['present', 'nullable', 'array']])['rule'];
        $this->store->decisionRule($experiment, $rule, $request->user());

        return response()->json(['rule' => $experiment->refresh()->decision]);
    }
}
