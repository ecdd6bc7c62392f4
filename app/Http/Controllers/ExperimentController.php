<?php

namespace App\Http\Controllers;

use App\Experiments\ExperimentStore;
use App\Http\Requests\MoveExperimentRequest;
use App\Http\Requests\SaveExperimentRequest;
use App\Http\Resources\ExperimentResource;
use App\Models\Experiment;
use App\Models\Site;
use Illuminate\Http\JsonResponse;
use Illuminate\Http\Resources\Json\AnonymousResourceCollection;
use Illuminate\Http\Response;

class ExperimentController extends Controller
{
    public function __construct(private readonly ExperimentStore $store)
    {
    }

    public function index(Site $site): AnonymousResourceCollection
    {
        return ExperimentResource::collection($site->experiments()->with('goals')->latest('changed_at')->get());
    }

    public function store(SaveExperimentRequest $request, Site $site): JsonResponse
    {
        $experiment = $this->store->create($site, $request->declared());

        return (new ExperimentResource($experiment))->response()->setStatusCode(201);
    }

    public function show(Site $site, Experiment $experiment): ExperimentResource
    {
        return new ExperimentResource($experiment);
    }

    public function update(SaveExperimentRequest $request, Site $site, Experiment $experiment): ExperimentResource
    {
        return new ExperimentResource($this->store->replace($experiment, $request->declared()));
    }

    public function destroy(Site $site, Experiment $experiment): Response
    {
        $this->store->delete($experiment);

        return response()->noContent();
    }

    public function move(MoveExperimentRequest $request, Site $site, Experiment $experiment): ExperimentResource
    {
        return new ExperimentResource($this->store->move($experiment, $request->validated('action')));
    }

    /** The experiment file, for `bin/pellix` and for other tools. */
    public function file(Site $site, Experiment $experiment): JsonResponse
    {
        return response()->json($experiment->declared()->toArray(), 200, [
            'Content-Disposition' => "attachment; filename=\"{$experiment->key}.experiment.json\"",
        ], JSON_PRETTY_PRINT | JSON_UNESCAPED_SLASHES | JSON_UNESCAPED_UNICODE);
    }
}
