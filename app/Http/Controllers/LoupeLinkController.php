<?php

namespace App\Http\Controllers;

use App\Http\Resources\LoupeLinkResource;
use App\Loupe\Links;
use App\Models\LoupeLink;
use App\Models\Site;
use Carbon\CarbonImmutable;
use Illuminate\Http\JsonResponse;
use Illuminate\Http\Request;
use Illuminate\Http\Resources\Json\AnonymousResourceCollection;
use Illuminate\Validation\Rule;
use Pellix\Core\Loupe\Purpose;

/** Links to the Loupe, as those who look after the site see them. */
class LoupeLinkController extends Controller
{
    private const LISTED = 100;

    public function index(Request $request, Site $site): AnonymousResourceCollection
    {
        $asked = $request->validate(['experiment' => ['nullable', 'string', 'max:60']]);
        $experiment = isset($asked['experiment']) ? $site->experiments()->where('key', $asked['experiment'])->firstOrFail() : null;
        $links = $site->loupeLinks()->with('experiment')->when($experiment !== null, static fn ($query) => $query->where('experiment_id', $experiment?->id));

        return LoupeLinkResource::collection($links->latest('id')->limit(self::LISTED)->get());
    }

    public function store(Request $request, Site $site): JsonResponse
    {
        $asked = $request->validate([
            'purpose' => ['required', Rule::enum(Purpose::class)],
            'experiment' => ['nullable', 'string', 'max:60'],
            'variant' => ['nullable', 'string', 'max:60'],
            'url' => ['required', 'string', 'max:1900'],
            'recipient' => ['nullable', 'string', 'max:120', 'required_if:purpose,preview'],
            'hours' => ['required', 'integer', 'between:1,720'],
        ], ['recipient.required_if' => 'Say who it is for, so that you can tell the links apart.', 'hours.between' => 'A link lasts from 1 hour to 30 days (720 hours).']);
        $experiment = isset($asked['experiment']) ? $site->experiments()->where('key', $asked['experiment'])->firstOrFail() : null;
        $link = Links::make($site, Purpose::from($asked['purpose']), $experiment, $asked['variant'] ?? null, $asked['url'], (string) ($asked['recipient'] ?? $request->user()->name), (int) $asked['hours'], $request->user());

        return (new LoupeLinkResource($link))->response()->setStatusCode(201);
    }

    /** Revokes the link; that it was given stays in the list. */
    public function destroy(Site $site, LoupeLink $loupeLink): LoupeLinkResource
    {
        $loupeLink->update(['revoked_at' => $loupeLink->revoked_at ?? CarbonImmutable::now('UTC')]);

        return new LoupeLinkResource($loupeLink);
    }
}
