<?php

namespace App\Http\Controllers;

use App\Briefs\ChangeBrief;
use App\Http\Resources\BriefResource;
use App\Inventory\PageCopies;
use App\Models\Brief;
use App\Models\Site;
use Carbon\CarbonImmutable;
use Illuminate\Http\JsonResponse;
use Illuminate\Http\Request;
use Illuminate\Http\Resources\Json\AnonymousResourceCollection;
use Illuminate\Support\Str;
use Illuminate\Validation\Rule;
use Illuminate\Validation\ValidationException;
use Pellix\Core\Wiring\Guard;

/** Hand-off briefs, as those who look after the site see them. */
class BriefController extends Controller
{
    private const TOKEN_LENGTH = 43;

    public function index(Site $site): AnonymousResourceCollection
    {
        return BriefResource::collection($site->briefs()->with('experiment')->latest('id')->limit(100)->get());
    }

    public function store(Request $request, Site $site, PageCopies $copies): JsonResponse
    {
        $asked = $request->validate([
            'recipient' => ['required', 'string', 'max:120'],
            'message' => ['nullable', 'string', 'max:2000'],
            'days' => ['required', 'integer', 'between:1,365'],
            'guard_ms' => ['nullable', 'integer', Rule::in(Guard::OFFERED)],
            'experiment' => ['nullable', 'string', 'max:60'],
            'variant' => ['required_with:experiment', 'nullable', 'string', 'max:40', 'ascii'],
        ], ['recipient.required' => 'Say who it is for, so that you can tell the links apart.']);
        $experiment = isset($asked['experiment']) ? $site->experiments()->where('key', $asked['experiment'])->first() ?? throw ValidationException::withMessages(['experiment' => "This site has no experiment \"{$asked['experiment']}\"."]) : null;
        $now = CarbonImmutable::now('UTC');
        $token = Str::random(self::TOKEN_LENGTH);
        $brief = $site->briefs()->create([
            'recipient' => $asked['recipient'], 'message' => $asked['message'] ?? '', 'guard_ms' => $asked['guard_ms'] ?? null,
            'token' => $token, 'token_hash' => Brief::hash($token), 'author_id' => $request->user()->id, 'author' => $request->user()->name,
            ...($experiment === null ? [] : ['experiment_id' => $experiment->id, 'variant' => $asked['variant'], 'content' => ChangeBrief::content($site, $experiment, $asked['variant'], $copies)]),
            'created_at' => $now, 'expires_at' => $now->addDays((int) $asked['days']),
        ]);

        return (new BriefResource($brief))->response()->setStatusCode(201);
    }

    /** Revokes the link; what was sent stays in the list. */
    public function destroy(Site $site, Brief $brief): BriefResource
    {
        $brief->update(['revoked_at' => $brief->revoked_at ?? CarbonImmutable::now('UTC')]);

        return new BriefResource($brief);
    }
}
