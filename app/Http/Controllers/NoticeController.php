<?php

namespace App\Http\Controllers;

use App\Audits\Watchman;
use App\Models\Notice;
use App\Models\Site;
use Carbon\CarbonImmutable;
use Illuminate\Http\JsonResponse;
use Illuminate\Http\Request;
use Pellix\Core\Formats\Moment;

/** What the watch over running experiments has noticed, and what of it is new to whoever asks. */
class NoticeController extends Controller
{
    private const LISTED = 100;

    public function __construct(private readonly Watchman $watchman)
    {
    }

    public function index(Request $request, Site $site): JsonResponse
    {
        $looked = $this->watchman->looked($site, $request->user());

        return response()->json(Notice::query()->where('site_id', $site->id)->with('experiment')->latest('id')->limit(self::LISTED)->get()->map(static fn (Notice $one): array => [
            'notice' => $one->id,
            'experiment' => $one->experiment?->key,
            'name' => $one->experiment?->name,
            'audit' => $one->audit_id,
            'identity' => $one->identity,
            'code' => $one->code,
            'severity' => $one->severity,
            'message' => $one->message,
            'at' => Moment::format($one->at),
            'over' => $one->over_at === null ? null : Moment::format($one->over_at),
            'new' => $looked === null || $one->at->isAfter($looked),
        ]));
    }

    /** Says that all of it was seen. */
    public function update(Request $request, Site $site): JsonResponse
    {
        $this->watchman->seen($site, $request->user(), CarbonImmutable::now('UTC'));

        return $this->index($request, $site);
    }
}
