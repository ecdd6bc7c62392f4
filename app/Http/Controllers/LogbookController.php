<?php

namespace App\Http\Controllers;

use App\Http\Requests\LogbookRequest;
use App\Logbook\Entries;
use App\Models\Site;
use Illuminate\Http\JsonResponse;
use Symfony\Component\HttpFoundation\StreamedResponse;

/** Who changed what, when, and from where. */
class LogbookController extends Controller
{
    public function index(LogbookRequest $request, Site $site): JsonResponse
    {
        return response()->json(Entries::page($site, $request->filters($site), $request->validated('before')));
    }

    public function export(LogbookRequest $request, Site $site): StreamedResponse
    {
        return response()->streamDownload(static fn () => Entries::writeCsv($site, $request->filters($site), 'php://output'), "{$site->key}-logbook.csv", ['Content-Type' => 'text/csv; charset=utf-8; header=present']);
    }
}
