<?php

namespace App\Http\Controllers;

use App\Http\Resources\ChainResource;
use App\Http\Resources\ObservationsResource;
use App\Models\Experiment;
use App\Models\Site;
use App\Observation\Readings;
use Carbon\CarbonImmutable;
use Illuminate\Http\JsonResponse;
use Pellix\Core\Chain\Chain;

class ObservationController extends Controller
{
    public function __construct(private readonly Readings $readings)
    {
    }

    /** The chain of every experiment of a site. */
    public function index(Site $site): JsonResponse
    {
        $now = CarbonImmutable::now('UTC');
        $chains = $site->experiments()->with('goals')->latest('changed_at')->get()->map(function (Experiment $experiment) use ($site, $now): array {
            $seen = $this->readings->of($experiment->setRelation('site', $site), $now);

            return [
                'experiment' => $experiment->key,
                'visitors' => $seen->exposedVisitors(),
                'last_exposure' => $seen->entered->last,
                ...ChainResource::of(Chain::judge($seen)),
            ];
        });

        return response()->json($chains);
    }

    public function show(Site $site, Experiment $experiment): ObservationsResource
    {
        return new ObservationsResource($this->readings->of($experiment->setRelation('site', $site), CarbonImmutable::now('UTC')));
    }
}
