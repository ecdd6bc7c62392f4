<?php

namespace App\Http\Controllers;

use App\Http\Resources\AuditShareResource;
use App\Models\Audit;
use App\Models\AuditShare;
use App\Models\Site;
use Carbon\CarbonImmutable;
use Illuminate\Http\JsonResponse;
use Illuminate\Http\Request;
use Illuminate\Http\Resources\Json\AnonymousResourceCollection;
use Illuminate\Support\Str;
use Illuminate\Validation\ValidationException;

/** Links to the report of an audit, as those who look after the site see them. */
class AuditShareController extends Controller
{
    private const TOKEN_LENGTH = 43;
    private const MOST = 50;

    public function index(Site $site, Audit $audit): AnonymousResourceCollection
    {
        return AuditShareResource::collection($audit->shares()->latest('id')->get());
    }

    public function store(Request $request, Site $site, Audit $audit): JsonResponse
    {
        $asked = $request->validate([
            'recipient' => ['required', 'string', 'max:120'],
            'days' => ['required', 'integer', 'between:1,365'],
        ], ['recipient.required' => 'Say who it is for, so that you can tell the links apart.']);
        $audit->state === 'done' || throw ValidationException::withMessages(['recipient' => 'This audit has found nothing yet: it is not done.']);
        $audit->shares()->count() < self::MOST || throw ValidationException::withMessages(['recipient' => 'An audit has '.self::MOST.' links at most.']);
        $now = CarbonImmutable::now('UTC');
        $token = Str::random(self::TOKEN_LENGTH);
        $share = $audit->shares()->create(['recipient' => $asked['recipient'], 'token' => $token, 'token_hash' => AuditShare::hash($token), 'author' => $request->user()->name, 'created_at' => $now, 'expires_at' => $now->addDays((int) $asked['days'])]);

        return (new AuditShareResource($share))->response()->setStatusCode(201);
    }

    /** Revokes the link; that it was given stays in the list. */
    public function destroy(Site $site, Audit $audit, AuditShare $share): AuditShareResource
    {
        $share->update(['revoked_at' => $share->revoked_at ?? CarbonImmutable::now('UTC')]);

        return new AuditShareResource($share);
    }
}
