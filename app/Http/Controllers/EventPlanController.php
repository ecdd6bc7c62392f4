<?php

namespace App\Http\Controllers;

use App\Measures\EventVolumes;
use App\Measures\PlanFile;
use App\Models\EventDefinition;
use App\Models\Site;
use Illuminate\Http\JsonResponse;
use Illuminate\Http\Request;
use Illuminate\Http\Response;
use Illuminate\Validation\ValidationException;
use Pellix\Core\Events\EventPlan;
use Pellix\Core\Events\InvalidPlan;
use Pellix\Core\Events\PlanText;

/** The tracking plan: what a site means to send, beside what it sends. */
class EventPlanController extends Controller
{
    public function __construct(private readonly EventVolumes $volumes, private readonly PlanFile $file)
    {
    }

    /** Every event that is planned or was seen. */
    public function index(Site $site): JsonResponse
    {
        return response()->json($this->volumes->all($site));
    }

    public function show(Site $site, string $name): JsonResponse
    {
        self::refuseForeign($name);

        return response()->json($this->volumes->one($site, $name));
    }

    public function update(Request $request, Site $site, string $name): JsonResponse
    {
        try {
            $plan = EventPlan::read([...$request->json()->all(), 'name' => $name]);
        } catch (InvalidPlan $e) {
            throw ValidationException::withMessages([$e->field ?: 'plan' => $e->getMessage()]);
        }
        $this->file->keep($site, [$plan]);

        return response()->json($this->volumes->one($site, $name));
    }

    public function destroy(Site $site, string $name): Response
    {
        self::refuseForeign($name);
        EventDefinition::query()->where('site_id', $site->id)->where('name', $name)->firstOrFail()->delete();

        return response()->noContent();
    }

    public function export(Site $site, string $format): Response
    {
        [$text, $type] = $format === 'csv' ? [$this->file->csv($site), 'text/csv; charset=utf-8'] : [$this->file->json($site), 'application/json'];

        return response($text, 200, ['Content-Type' => $type, 'Content-Disposition' => "attachment; filename=\"{$site->key}-plan.{$format}\""]);
    }

    /** Takes a plan as JSON or CSV; events that it does not name stay as they are. */
    public function import(Request $request, Site $site): JsonResponse
    {
        $text = $request->validate(['plan' => ['required', 'string', 'max:1000000']], ['plan.required' => 'Choose a file with a plan, or paste it.'])['plan'];
        try {
            $plans = PlanText::read($text);
        } catch (InvalidPlan $e) {
            throw ValidationException::withMessages(['plan' => trim("{$e->field}: {$e->getMessage()}", ': ')]);
        }
        $this->file->keep($site, $plans);

        return response()->json(['taken' => count($plans)]);
    }

    /** No event has such a name: the column is ASCII, and the database cannot even compare it with more. */
    private static function refuseForeign(string $name): void
    {
        abort_unless(mb_check_encoding($name, 'ASCII'), 404);
    }
}
