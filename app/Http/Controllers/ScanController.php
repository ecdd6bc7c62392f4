<?php

namespace App\Http\Controllers;

use App\Http\Resources\ScanResource;
use App\Models\Scan;
use App\Models\Site;
use App\Scanning\Scanner;
use Illuminate\Http\JsonResponse;
use Illuminate\Http\Request;
use Illuminate\Http\Resources\Json\AnonymousResourceCollection;
use Illuminate\Validation\Rule;

/** Scans of a site's pages, which run in the background. */
class ScanController extends Controller
{
    public function __construct(private readonly Scanner $scanner)
    {
    }

    /** The newest ones; a running one is among them. */
    public function index(Site $site): AnonymousResourceCollection
    {
        return ScanResource::collection($site->scans()->latest('id')->limit(5)->get());
    }

    public function store(Request $request, Site $site): JsonResponse
    {
        $asked = $request->validate([
            'kind' => ['required', Rule::in(['find', 'inspect'])],
            'depth' => ['nullable', 'integer', 'between:0,10'],
            'most' => ['nullable', 'integer', 'between:1,20000'],
        ]);
        $scan = $this->scanner->start($site, $asked['kind'], $request->user(), $asked['depth'] ?? 3, $asked['most'] ?? 500);

        return (new ScanResource($scan))->response()->setStatusCode(201);
    }

    public function destroy(Site $site, Scan $scan): ScanResource
    {
        $this->scanner->cancel($scan);

        return new ScanResource($scan->refresh());
    }
}
