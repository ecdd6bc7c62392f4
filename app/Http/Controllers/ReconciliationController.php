<?php

namespace App\Http\Controllers;

use App\Audits\Reconciler;
use App\Http\Requests\ReconcileRequest;
use App\Http\Resources\ReconciliationResource;
use App\Models\Reconciliation;
use App\Models\Site;
use Illuminate\Http\JsonResponse;
use Illuminate\Http\Request;
use Illuminate\Http\Resources\Json\AnonymousResourceCollection;
use Illuminate\Http\Response;

/** Files of other sources, held against what Pellix has. */
class ReconciliationController extends Controller
{
    public function __construct(private readonly Reconciler $reconciler)
    {
    }

    public function index(Site $site): AnonymousResourceCollection
    {
        return ReconciliationResource::collection($site->reconciliations()->select(Reconciliation::HEAD)->with(['experiment'])->latest('id')->limit(100)->get());
    }

    public function store(ReconcileRequest $request, Site $site): JsonResponse
    {
        $asked = $this->reconciler->ask($site, $request->subject($site), $request->name(), $request->bytes(), $request->mapping(), $request->tolerance(), $request->window(), $request->goal(), $request->user());

        return (new ReconciliationResource($asked))->response()->setStatusCode(202);
    }

    public function show(Request $request, Site $site, Reconciliation $reconciliation): JsonResponse
    {
        $settings = $reconciliation->settings;

        // Numbers as the command writes them.
        return response()->json([
            ...(new ReconciliationResource($reconciliation))->toArray($request),
            'mapping' => $settings['mapping'] ?? null, 'tolerance' => (float) $settings['tolerance'], 'window' => (int) $settings['window'], 'goal' => $settings['goal'] ?? null,
            'result' => $reconciliation->result,
        ], 200, [], JSON_UNESCAPED_SLASHES | JSON_UNESCAPED_UNICODE | JSON_PRESERVE_ZERO_FRACTION | JSON_INVALID_UTF8_SUBSTITUTE);
    }

    public function destroy(Site $site, Reconciliation $reconciliation): Response
    {
        $reconciliation->delete();

        return response()->noContent();
    }
}
