<?php

namespace App\Http\Controllers;

use App\Experiments\ExperimentStore;
use App\Experiments\WrittenExperiment;
use App\Http\Requests\KeepDraftRequest;
use App\Http\Requests\MoveExperimentRequest;
use App\Http\Requests\SaveExperimentRequest;
use App\Http\Resources\ExperimentResource;
use App\Models\Experiment;
use App\Models\ExperimentRevision;
use App\Models\Site;
use App\Rights\Right;
use Illuminate\Http\JsonResponse;
use Illuminate\Http\Resources\Json\AnonymousResourceCollection;
use Illuminate\Http\Response;
use Illuminate\Support\Facades\Gate;
use Illuminate\Validation\ValidationException;
use Pellix\Core\Experiments\Experiment as Declared;
use Pellix\Core\Experiments\Stage;
use Pellix\Core\InvalidInput;

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
        $experiment = $this->store->create($site, $request->declared($site), $request->user());

        return (new ExperimentResource($experiment))->response()->setStatusCode(201);
    }

    public function show(Site $site, Experiment $experiment): ExperimentResource
    {
        return new ExperimentResource($experiment);
    }

    public function update(SaveExperimentRequest $request, Site $site, Experiment $experiment): ExperimentResource
    {
        if (Stage::from($experiment->state)->hasStarted()) {
            // Visitors notice this one.
            Gate::authorize(Right::Publish->value, $site);
        }

        return new ExperimentResource($this->store->replace($experiment, $request->declared($site), $request->user(), SaveExperimentRequest::revision($request)));
    }

    /**
     * Keeps a draft while it is being written: as the experiment where it can be read, and as it was written where it cannot
     * yet; then what is wrong is said by field.
     */
    public function keep(KeepDraftRequest $request, Site $site, Experiment $experiment): JsonResponse
    {
        abort_unless($experiment->state === 'draft', 409, "Only a draft is kept as it is written; this experiment is {$experiment->state}.");
        $given = SaveExperimentRequest::given($request);
        $revision = SaveExperimentRequest::revision($request);
        try {
            $kept = $this->store->replace($experiment, WrittenExperiment::read($site, $experiment, $given, $request->user()->can(Right::Publish->value, $site)), $request->user(), $revision);
            $problems = [];
        } catch (ValidationException $e) {
            $kept = $this->store->keepUnfinished($experiment, $given, $request->user(), $revision);
            $problems = $e->errors();
        }

        return response()->json(['experiment' => new ExperimentResource($kept), 'problems' => (object) $problems]);
    }

    public function destroy(Site $site, Experiment $experiment): Response
    {
        $this->store->delete($experiment);

        return response()->noContent();
    }

    public function move(MoveExperimentRequest $request, Site $site, Experiment $experiment): ExperimentResource
    {
        return new ExperimentResource($this->store->move($experiment, $request->validated('action'), $request->user()));
    }

    /** Every state that the experiment was in, the newest first. */
    public function revisions(Site $site, Experiment $experiment): JsonResponse
    {
        return response()->json($experiment->revisions->sortByDesc('number')->values()->map(static fn (ExperimentRevision $one): array => [
            ...$one->only('number', 'from', 'stage', 'changed', 'author'), 'declared' => (object) $one->declared,
        ]));
    }

    private static function readable(Experiment $experiment): Declared
    {
        try {
            return $experiment->declared();
        } catch (InvalidInput $e) {
            abort(409, "This experiment cannot be read: {$e->field}: {$e->getMessage()}");
        }
    }

    /** The experiment file, for `bin/pellix` and for other tools. */
    public function file(Site $site, Experiment $experiment): JsonResponse
    {
        return response()->json(self::readable($experiment)->toArray(), 200, [
            'Content-Disposition' => "attachment; filename=\"{$experiment->key}.experiment.json\"",
        ], JSON_PRETTY_PRINT | JSON_UNESCAPED_SLASHES | JSON_UNESCAPED_UNICODE);
    }
}
