<?php

namespace App\Http\Controllers;

use App\Experiments\ExperimentStore;
use App\Http\Requests\PlanRequest;
use App\Models\Experiment;
use App\Models\Site;
use Illuminate\Http\JsonResponse;
use Illuminate\Http\Request;
use Illuminate\Http\Response;
use Pellix\Core\InvalidInput;
use Pellix\Core\Planning\Outcome;
use Pellix\Core\Planning\Plan;

/** Plans of experiments: worked out while they are made, and kept. */
class PlanController extends Controller
{
    public function __construct(private readonly ExperimentStore $store)
    {
    }

    /** What would follow from a plan; nothing is kept. */
    public function try(PlanRequest $request, Site $site): JsonResponse
    {
        return response()->json(self::followed($request->plan()));
    }

    /** The plan that is kept, with what follows from it. */
    public function show(Site $site, Experiment $experiment): JsonResponse
    {
        if ($experiment->plan === null) {
            return response()->json(['kept' => null]);
        }
        try {
            return response()->json(['kept' => self::followed(Plan::read($experiment->plan))]);
        } catch (InvalidInput $e) {
            abort(409, "The plan cannot be read: {$e->field}: {$e->getMessage()}");
        }
    }

    public function update(PlanRequest $request, Site $site, Experiment $experiment): JsonResponse
    {
        $this->store->plan($experiment, $request->plan(), $request->user());

        return response()->json(self::followed(Plan::read($experiment->refresh()->plan)));
    }

    public function destroy(Request $request, Site $site, Experiment $experiment): Response
    {
        $this->store->plan($experiment, null, $request->user());

        return response()->noContent();
    }

    /** @return array{plan: array<string, mixed>, outcome: array<string, mixed>, curve: list<array<string, mixed>>} */
    private static function followed(Plan $plan): array
    {
        $outcome = Outcome::of($plan);

        return ['plan' => $plan->toArray(), 'outcome' => $outcome->toArray(), 'curve' => $outcome->curve()];
    }
}
