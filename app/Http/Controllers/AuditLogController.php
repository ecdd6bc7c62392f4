<?php

namespace App\Http\Controllers;

use App\Audits\LogHead;
use App\Audits\LogPieces;
use App\Http\Resources\AuditLogResource;
use App\Models\AuditLog;
use App\Models\Site;
use Illuminate\Http\JsonResponse;
use Illuminate\Http\Request;
use Illuminate\Http\Resources\Json\AnonymousResourceCollection;
use Illuminate\Http\Response;

/** Logs that somebody brings to be audited, piece by piece. */
class AuditLogController extends Controller
{
    public function __construct(private readonly LogPieces $pieces)
    {
    }

    public function index(Site $site): AnonymousResourceCollection
    {
        return AuditLogResource::collection($site->auditLogs()->latest('id')->get());
    }

    public function store(Request $request, Site $site): JsonResponse
    {
        $asked = $request->validate([
            'name' => ['required', 'string', 'max:200', 'not_regex:/[\x00-\x1f]/'],
            'size' => ['required', 'integer', 'min:1', 'max:'.LogPieces::MOST_BYTES],
        ], ['size.max' => 'A log may have 2 GB; pack a longer one by gzip.', 'size.min' => 'The file is empty.']);

        return (new AuditLogResource($this->pieces->begin($site, $asked['name'], (int) $asked['size'], $request->user())))->response()->setStatusCode(201);
    }

    /** The next piece, as the bytes that it has. */
    public function take(Request $request, Site $site, AuditLog $auditLog, int $offset): AuditLogResource
    {
        return new AuditLogResource($this->pieces->take($auditLog, $offset, $request->getContent()));
    }

    /** With its first lines, and what their columns may mean. */
    public function show(Request $request, Site $site, AuditLog $auditLog): JsonResponse
    {
        return response()->json([...(new AuditLogResource($auditLog))->toArray($request), 'head' => LogHead::of($auditLog, $this->pieces)]);
    }

    public function update(Request $request, Site $site, AuditLog $auditLog): JsonResponse
    {
        $asked = $request->validate(['experiment' => ['present', 'nullable', 'array'], 'mapping' => ['present', 'nullable', 'array']]);
        LogHead::keep($auditLog, $asked['experiment'], $asked['mapping']);

        return $this->show($request, $site, $auditLog->refresh());
    }

    public function destroy(Site $site, AuditLog $auditLog): Response
    {
        $auditLog->delete();

        return response()->noContent();
    }
}
