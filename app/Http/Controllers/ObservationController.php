<?php

namespace App\Http\Controllers;

use App\Http\Resources\ChainResource;
use App\Http\Resources\ObservationsResource;
use App\Models\Experiment;
use App\Models\Site;
use App\Observation\Observer;
use App\ReadModel\Progress;
use App\ReadModel\Readings;
use Carbon\CarbonImmutable;
use Illuminate\Http\JsonResponse;
use Pellix\Core\Chain\Chain;
use Pellix\Core\Chain\Observations;
use Pellix\Core\Chain\Reception;
use Pellix\Core\InvalidInput;

class ObservationController extends Controller
{
    public function __construct(private readonly Observer $observer)
    {
    }

    /** The chain of every experiment of a site. One that cannot be read says so, and leaves the others alone. */
    public function index(Site $site): JsonResponse
    {
        $now = CarbonImmutable::now('UTC');
        [$readings, $inspected, $rehearsed] = Observer::readings($site->id);
        $counting = Progress::ofCounts($site->id, 'experiment');

        return response()->json($site->experiments()->with(['goals', 'revisions'])->latest('changed_at')->get()->map(function (Experiment $experiment) use ($site, $now, $readings, $inspected, $rehearsed, $counting): array {
            try {
                $seen = $this->observer->observe($experiment->setRelation('site', $site), $readings[$experiment->id] ?? null, $inspected[$experiment->id] ?? null, $now, $rehearsed[$experiment->id] ?? null);
            } catch (InvalidInput $e) {
                $words = "It cannot be read: {$e->field}: {$e->getMessage()}";

                return ['experiment' => $experiment->key, 'visitors' => 0, 'last_exposure' => null, 'received' => null, 'counting' => 'current', ...ChainResource::unreadable($words)];
            }

            return [
                'experiment' => $experiment->key,
                'visitors' => $seen->exposedVisitors(),
                'last_exposure' => $seen->entered->last,
                'received' => self::received($experiment, $seen),
                'counting' => $counting[$experiment->id]['state'] ?? 'building',
                ...ChainResource::of(Chain::judge($seen)),
            ];
        }));
    }

    /** @return array{silent: bool, words: string}|null of one that runs */
    private static function received(Experiment $experiment, Observations $seen): ?array
    {
        if ($experiment->state !== 'running') {
            return null;
        }
        $reception = Reception::of($seen, $experiment->changed_at);

        return ['silent' => $reception->isSilent, 'words' => $reception->words];
    }

    public function show(Site $site, Experiment $experiment): ObservationsResource
    {
        try {
            $seen = $this->observer->observe(
                $experiment->setRelation('site', $site),
                Readings::one($site->id, 'experiment', (string) $experiment->id),
                Readings::one($site->id, 'inspected', (string) $experiment->id),
                CarbonImmutable::now('UTC'),
                Readings::one($site->id, 'rehearsed', (string) $experiment->id),
            );
        } catch (InvalidInput $e) {
            abort(409, "This experiment cannot be read: {$e->field}: {$e->getMessage()}");
        }

        return (new ObservationsResource($seen))->received(self::received($experiment, $seen))->counted(Progress::ofSite($site->id), Progress::ofCounts($site->id, 'experiment')[$experiment->id] ?? null);
    }
}
