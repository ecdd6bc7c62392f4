<?php

namespace App\Http\Controllers;

use App\Http\Resources\SiteKeysResource;
use App\Models\Site;
use App\Models\SiteKey;
use App\Sites\SiteKeys;
use Carbon\CarbonImmutable;
use Illuminate\Http\JsonResponse;
use Illuminate\Http\Request;
use Pellix\Core\Sites\KeyOverlap;

/** The keys of a site: the one that its pages are to carry, and those that count for a while yet. */
class SiteKeyController extends Controller
{
    public function __construct(private readonly SiteKeys $keys)
    {
    }

    public function index(Site $site): SiteKeysResource
    {
        return new SiteKeysResource($site);
    }

    public function store(Request $request, Site $site): JsonResponse
    {
        return (new SiteKeysResource($this->keys->replace($site, $request->user(), self::end($request))))->response()->setStatusCode(201);
    }

    public function update(Request $request, Site $site, string $key): SiteKeysResource
    {
        $kept = SiteKey::query()->where('site_id', $site->id)->where('key', $key)->first() ?? abort(404);
        $this->keys->end($site, $kept, $request->user(), self::end($request));

        return new SiteKeysResource($site);
    }

    private static function end(Request $request): CarbonImmutable
    {
        $days = $request->validate(['days' => ['required', 'integer', 'min:0', 'max:'.KeyOverlap::MOST_DAYS]], [
            'days.*' => 'For how many days the old key counts yet: a whole number, 0 to '.KeyOverlap::MOST_DAYS.'; 0 ends it at once.',
        ])['days'];

        return CarbonImmutable::now('UTC')->addDays((int) $days);
    }
}
