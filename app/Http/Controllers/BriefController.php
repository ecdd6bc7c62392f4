<?php

namespace App\Http\Controllers;

use App\Http\Resources\BriefResource;
use App\Models\Brief;
use App\Models\Site;
use Carbon\CarbonImmutable;
use Illuminate\Http\JsonResponse;
use Illuminate\Http\Request;
use Illuminate\Http\Resources\Json\AnonymousResourceCollection;
use Illuminate\Support\Str;
use Illuminate\Validation\Rule;
use Pellix\Core\Wiring\Guard;

/** Hand-off briefs, as those who look after the site see them. */
class BriefController extends Controller
{
    private const TOKEN_LENGTH = 43;

    public function index(Site $site): AnonymousResourceCollection
    {
        return BriefResource::collection($site->briefs()->latest('id')->limit(100)->get());
    }

    public function store(Request $request, Site $site): JsonResponse
    {
        $asked = $request->validate([
            'recipient' => ['required', 'string', 'max:120'],
            'message' => ['nullable', 'string', 'max:2000'],
            'days' => ['required', 'integer', 'between:1,365'],
            'guard_ms' => ['nullable', 'integer', Rule::in(Guard::OFFERED)],
        ], ['recipient.required' => 'Say who it is for, so that you can tell the links apart.']);
        $now = CarbonImmutable::now('UTC');
        $token = Str::random(self::TOKEN_LENGTH);
        $brief = $site->briefs()->create([
            'recipient' => $asked['recipient'], 'message' => $asked['message'] ?? '', 'guard_ms' => $asked['guard_ms'] ?? null,
            'token' => $token, 'token_hash' => Brief::hash($token), 'author_id' => $request->user()->id, 'author' => $request->user()->name,
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
