<?php

namespace App\Http\Controllers;

use App\Approvals\Approvals;
use App\Experiments\ChangePreview;
use App\Experiments\ExperimentLife;
use App\Experiments\ExperimentStore;
use App\Experiments\Revisions;
use App\Experiments\Timetable;
use App\Experiments\WrittenExperiment;
use App\Http\Middleware\RequireConfirmation;
use App\Http\Requests\KeepDraftRequest;
use App\Http\Requests\MoveExperimentRequest;
use App\Http\Requests\SaveExperimentRequest;
use App\Http\Resources\ExperimentResource;
use App\Models\Experiment;
use App\Models\ExperimentRevision;
use App\Models\Site;
use Illuminate\Http\Exceptions\HttpResponseException;
use Illuminate\Http\JsonResponse;
use Illuminate\Http\Request;
use Illuminate\Http\Resources\Json\AnonymousResourceCollection;
use Illuminate\Http\Response;
use Illuminate\Validation\ValidationException;
use Pellix\Core\Experiments\EpochChange;
use Pellix\Core\Experiments\Experiment as Declared;
use Pellix\Core\Experiments\Stage;
use Pellix\Core\InvalidInput;
use Pellix\Core\Rights\Right;

class ExperimentController extends Controller
{
    public function __construct(private readonly ExperimentStore $store, private readonly Approvals $approvals, private readonly RequireConfirmation $confirmation)
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
        $declared = $request->declared($site);
        if (Stage::from($experiment->state)->hasStarted() && Revisions::reachVisitors($experiment->declaration(), $declared)) {
            // Visitors notice this one.
            return $this->publishing($request, $site, fn (): ExperimentResource => new ExperimentResource($this->store->replace($experiment, $declared, $request->user(), SaveExperimentRequest::revision($request))));
        }

        return new ExperimentResource($this->store->replace($experiment, $declared, $request->user(), SaveExperimentRequest::revision($request)));
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

    /** What a change would do to the analysis; nothing is changed. */
    public function preview(SaveExperimentRequest $request, Site $site, Experiment $experiment): JsonResponse
    {
        $change = EpochChange::between(self::readable($experiment), $request->declared($site), ...ChangePreview::known($experiment));

        return response()->json(['opens' => $change->fields, 'words' => $change->words]);
    }

    public function destroy(Site $site, Experiment $experiment): Response
    {
        $this->store->delete($experiment);

        return response()->noContent();
    }

    public function move(MoveExperimentRequest $request, Site $site, Experiment $experiment, ExperimentLife $life): ExperimentResource
    {
        return new ExperimentResource($life->move($experiment, $request->validated('action'), $request->user(), $request->validated('reason'), $request->validated('keep')));
    }

    /** When it is to start and end, by the clock of the site. */
    public function schedule(Request $request, Site $site, Experiment $experiment, Timetable $timetable): JsonResponse
    {
        $given = $request->validate([
            'start' => ['present', 'nullable', 'string', 'max:20'],
            'end' => ['present', 'nullable', 'string', 'max:20'],
            'end_visitors' => ['present', 'nullable', 'integer', 'between:1,1000000000'],
        ]);
        $set = static fn (): array => $timetable->set($experiment, $given['start'], $given['end'], $given['end_visitors'], $request->user());
        $notes = $experiment->state === 'draft' ? $set() : $this->publishing($request, $site, $set);

        return response()->json(['experiment' => new ExperimentResource($experiment->refresh()->load('goals', 'unfinished')), 'notes' => $notes]);
    }

    /** Serves a variant to everybody after the end, or stops that. */
    public function serve(Request $request, Site $site, Experiment $experiment, ExperimentLife $life): ExperimentResource
    {
        return new ExperimentResource($life->serve($experiment, $request->validate(['variant' => ['present', 'nullable', 'string', 'max:60']])['variant'], $request->user()));
    }

    public function duplicate(Request $request, Site $site, Experiment $experiment): JsonResponse
    {
        $revision = $request->validate(['revision' => ['nullable', 'integer', 'min:1']])['revision'] ?? null;

        return (new ExperimentResource($this->store->duplicate($experiment, $revision, $request->user())))->response()->setStatusCode(201);
    }

    /** Has a draft back that was deleted. */
    public function restore(Site $site, string $key): ExperimentResource
    {
        return new ExperimentResource($this->store->restore($site->experiments()->onlyTrashed()->where('key', $key)->firstOrFail()));
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

    /**
     * Does what visitors notice: for whoever may publish, and on a site that wants two people as the answer to what somebody else asked for.
     *
     * @template T
     *
     * @param \Closure(): T $do
     *
     * @return T
     */
    private function publishing(Request $request, Site $site, \Closure $do): mixed
    {
        $request->user()->can(Right::Publish->value, $site) || throw new HttpResponseException($this->approvals->refusal($site, $request->user(), 'You may prepare this; somebody who may publish does it.'));
        $unproven = $this->confirmation->refused($request);
        $unproven === null || throw new HttpResponseException($unproven);
        $asked = $this->approvals->before($request, $site);
        $done = $do();
        $asked === null || $this->approvals->done($site, $asked, $request->user());

        return $done;
    }
}
