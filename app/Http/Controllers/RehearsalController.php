<?php

namespace App\Http\Controllers;

use App\Http\Requests\RehearseRequest;
use App\Http\Resources\RehearsalResource;
use App\Models\Experiment;
use App\Models\Rehearsal;
use App\Models\Site;
use App\Rehearsals\Again;
use App\Rehearsals\Differences;
use App\Rehearsals\Rehearsals;
use App\Rehearsals\Report;
use Illuminate\Http\JsonResponse;
use Illuminate\Http\Request;
use Illuminate\Http\Resources\Json\AnonymousResourceCollection;
use Illuminate\Http\Response;

/** Rehearsals of an experiment: asked for, followed, read, and taken elsewhere. */
class RehearsalController extends Controller
{
    private const LISTED = 10;

    public function __construct(private readonly Rehearsals $rehearsals)
    {
    }

    /** The newest ones; one that is under way is among them. */
    public function index(Site $site, Experiment $experiment): AnonymousResourceCollection
    {
        return RehearsalResource::collection($experiment->rehearsals()->with('site', 'experiment')->latest('id')->limit(self::LISTED)->get());
    }

    /** The newest rehearsals of the site's installation, without an experiment. */
    public function installations(Site $site): AnonymousResourceCollection
    {
        return RehearsalResource::collection($site->rehearsals()->where('kind', 'installation')->with('site', 'experiment')->latest('id')->limit(self::LISTED)->get());
    }

    public function storeInstallation(Request $request, Site $site): JsonResponse
    {
        return (new RehearsalResource($this->rehearsals->askInstallation($site, $request->user())))->response()->setStatusCode(202);
    }

    public function store(RehearseRequest $request, Site $site, Experiment $experiment): JsonResponse
    {
        $rehearsal = $this->rehearsals->ask($experiment, $request->user(), $request->variants(), $request->screens());

        return (new RehearsalResource($rehearsal))->response()->setStatusCode(202);
    }

    /** When it is held again by itself. */
    public function plan(Site $site, Experiment $experiment, Again $again): JsonResponse
    {
        return response()->json($again->plan($experiment));
    }

    public function keepPlan(Request $request, Site $site, Experiment $experiment, Again $again): JsonResponse
    {
        $kept = $request->validate([
            'daily_at' => ['present', 'nullable', 'date_format:H:i'],
            'after_publication' => ['required', 'boolean'],
        ], ['daily_at.date_format' => 'A time of the day is needed, such as 06:00.']);
        $again->keep($experiment, $kept['daily_at'], (bool) $kept['after_publication'], $request->user());

        return response()->json($again->plan($experiment));
    }

    public function show(Site $site, Rehearsal $rehearsal): JsonResponse
    {
        return response()->json(Report::of($rehearsal)->toArray());
    }

    public function destroy(Site $site, Rehearsal $rehearsal): RehearsalResource
    {
        $this->rehearsals->cancel($rehearsal);

        return new RehearsalResource($rehearsal->refresh());
    }

    /** What broke and what was mended since another one of the same experiment. */
    public function compare(Site $site, Rehearsal $rehearsal, int $other): JsonResponse
    {
        $before = Rehearsal::query()->where('site_id', $site->id)->where('experiment_id', $rehearsal->experiment_id)->findOrFail($other);

        return response()->json(Differences::between($before, $rehearsal));
    }

    /** A picture, or what else was kept as it was. */
    public function file(Site $site, Rehearsal $rehearsal, string $name): Response
    {
        $file = $this->rehearsals->file($rehearsal, $name) ?? abort(404, 'There is no such file.');

        return response($file->content, 200, [
            'Content-Type' => $file->media, 'X-Content-Type-Options' => 'nosniff', 'Content-Security-Policy' => "sandbox; default-src 'none'",
            'Cache-Control' => $name === 'now.jpg' ? 'no-store' : 'private, max-age=3600',
            ...(str_starts_with($file->media, 'image/') ? [] : ['Content-Disposition' => "attachment; filename=\"{$name}\""]),
        ]);
    }

    public function html(Site $site, Rehearsal $rehearsal): Response
    {
        return response(Report::of($rehearsal)->html(), 200, ['Content-Type' => 'text/html; charset=utf-8', 'Content-Security-Policy' => "sandbox; default-src 'none'; img-src data:; style-src 'unsafe-inline'", 'Content-Disposition' => "attachment; filename=\"rehearsal-{$rehearsal->id}.html\""]);
    }

    public function junit(Site $site, Rehearsal $rehearsal): Response
    {
        return response(Report::of($rehearsal)->junit(), 200, ['Content-Type' => 'application/xml; charset=utf-8', 'Content-Disposition' => "attachment; filename=\"rehearsal-{$rehearsal->id}.xml\""]);
    }
}
