<?php

namespace App\Http\Controllers;

use App\Experiments\EntryTraces;
use App\Experiments\RunAdviceTrial;
use App\Experiments\RunBasisTrial;
use App\Experiments\RunReachTrial;
use App\Experiments\RunReadyTrial;
use App\Http\Requests\EntryTraceRequest;
use App\Http\Requests\ReachRequest;
use App\Measures\Trials;
use App\Models\Experiment;
use App\Models\Site;
use App\Models\Trial;
use Illuminate\Http\JsonResponse;
use Illuminate\Http\Request;
use Pellix\Core\Rules\PageRule;
use Pellix\Core\Rules\RuleReader;

/** What is known about an experiment that is being written: whom it would meet, what is worth a second look, who would enter. */
class ExperimentTrialController extends Controller
{
    public function __construct(private readonly Trials $trials)
    {
    }

    public function reach(ReachRequest $request, Site $site): JsonResponse
    {
        return self::run($this->trials->start($site, 'reach', $request->wanted(), $request->user(), RunReachTrial::class), 202);
    }

    /** Looks over what is kept of the experiment, whole or not. */
    public function advice(Request $request, Site $site, Experiment $experiment): JsonResponse
    {
        $written = [...($experiment->unfinished->written ?? $experiment->declaration()), 'key' => $experiment->key, 'revision' => $experiment->revision];

        return self::run($this->trials->start($site, 'advice', $written, $request->user(), RunAdviceTrial::class), 202);
    }

    /** What the experiment can be planned with, as it was whole last. */
    public function basis(Request $request, Site $site, Experiment $experiment): JsonResponse
    {
        $declared = $experiment->declaration();
        $wanted = ['pages' => $declared['pages'], 'audience' => $declared['audience'] ?? null, 'unit' => $declared['unit'], 'goals' => $declared['goals']];
        ReachRequest::rule('pages', static fn () => PageRule::read($wanted['pages']));
        ReachRequest::rule('audience', static fn () => $wanted['audience'] === null ? null : RuleReader::read($wanted['audience']));

        return self::run($this->trials->start($site, 'basis', $wanted, $request->user(), RunBasisTrial::class), 202);
    }

    /** Looks it over before its start, along the chain. */
    public function ready(Request $request, Site $site, Experiment $experiment): JsonResponse
    {
        return self::run($this->trials->start($site, 'ready', ['key' => $experiment->key, 'revision' => $experiment->revision], $request->user(), RunReadyTrial::class), 202);
    }

    public function show(Request $request, Site $site, Trial $trial): JsonResponse
    {
        abort_unless(in_array($trial->kind, ['reach', 'advice', 'basis', 'ready'], true), 404);

        return self::run($trial);
    }

    /** Whether visitors would enter, and why (not): asked of the rules alone, nothing is counted. */
    public function trace(EntryTraceRequest $request, Site $site, EntryTraces $traces): JsonResponse
    {
        return response()->json($traces->of($site, $request->pages(), $request->audience(), $request->visitors()));
    }

    private static function run(Trial $trial, int $status = 200): JsonResponse
    {
        return response()->json([...$trial->only('id', 'kind', 'state', 'done', 'total', 'started_at'), 'result' => $trial->result], $status);
    }
}
