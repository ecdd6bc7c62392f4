<?php

namespace App\Http\Controllers;

use App\Http\Resources\DecisionResource;
use App\Models\Experiment;
use App\Models\Site;
use App\ReadoutReport\ReadoutPage;
use App\ReadoutReport\ReadoutTable;
use App\Readouts\Cover;
use App\Readouts\Decisions;
use App\Readouts\Readouts;
use Carbon\CarbonImmutable;
use Illuminate\Http\JsonResponse;
use Illuminate\Http\Request;
use Illuminate\Http\Response;

/** What an experiment says, behind its gate: read as the workers have put it together. */
class ReadoutController extends Controller
{
    public function __construct(private readonly Readouts $readouts, private readonly Cover $cover, private readonly Decisions $decisions)
    {
    }

    public function show(Site $site, Experiment $experiment): JsonResponse
    {
        return $this->answer($site, $experiment);
    }

    /** Lifts the cover of figures that are not fit to decide on. The reason stays with them. */
    public function lift(Request $request, Site $site, Experiment $experiment): JsonResponse
    {
        $reason = $request->validate(['reason' => ['required', 'string', 'max:500']], ['reason.required' => 'Say why the figures are to be shown all the same: it stays on the page and in every file.'])['reason'];
        $this->cover->lift($experiment, $reason, $request->user());

        return $this->answer($site, $experiment);
    }

    public function putBack(Request $request, Site $site, Experiment $experiment): JsonResponse
    {
        $this->cover->putBack($experiment, $request->user());

        return $this->answer($site, $experiment);
    }

    /** @param 'html'|'json'|'csv' $format */
    public function file(Site $site, Experiment $experiment, string $format): Response|JsonResponse
    {
        $report = $this->readouts->of($experiment->setRelation('site', $site), CarbonImmutable::now('UTC'))['report'] ?? abort(404, 'There is no readout of this experiment yet.');
        $name = "readout-{$experiment->key}";

        return match ($format) {
            'json' => response()->json($report, 200, ['Content-Disposition' => "attachment; filename=\"{$name}.json\""], JSON_UNESCAPED_SLASHES | JSON_UNESCAPED_UNICODE | JSON_PRESERVE_ZERO_FRACTION | JSON_INVALID_UTF8_SUBSTITUTE),
            'csv' => response(ReadoutTable::of($report), 200, ['Content-Type' => 'text/csv; charset=utf-8', 'Content-Disposition' => "attachment; filename=\"{$name}.csv\""]),
            default => response(ReadoutPage::of($report), 200, ['Content-Type' => 'text/html; charset=utf-8', 'Content-Security-Policy' => "sandbox; default-src 'none'; style-src 'unsafe-inline'", 'Content-Disposition' => "inline; filename=\"{$name}.html\""]),
        };
    }

    private function answer(Site $site, Experiment $experiment): JsonResponse
    {
        $read = $this->readouts->of($experiment->setRelation('site', $site), CarbonImmutable::now('UTC'));
        $lifted = Cover::history($experiment);

        return response()->json([
            'state' => $read['state'],
            'problem' => $read['problem'],
            'at' => $read['at'],
            'audit' => $read['audit'],
            'report' => $read['report'],
            'proposal' => $read['proposal'],
            'rule' => $experiment->decision,
            'lifts' => $lifted,
            'decisions' => DecisionResource::collection($this->decisions->of($experiment))->resolve(),
        ], 200, [], JSON_UNESCAPED_SLASHES | JSON_UNESCAPED_UNICODE | JSON_PRESERVE_ZERO_FRACTION | JSON_INVALID_UTF8_SUBSTITUTE);
    }
}
