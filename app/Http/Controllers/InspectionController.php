<?php

namespace App\Http\Controllers;

use App\Fetching\FetchFailed;
use App\Fetching\PageFetcher;
use App\Http\Requests\InspectRequest;
use App\Models\Site;
use Illuminate\Http\JsonResponse;
use Pellix\Core\Wiring\Html\Encoding;
use Pellix\Core\Wiring\Inspection\Delivery;
use Pellix\Core\Wiring\Inspection\Inspector;
use Pellix\Core\Wiring\Inspection\Report;

class InspectionController extends Controller
{
    public function store(InspectRequest $request, Site $site, PageFetcher $fetcher): JsonResponse
    {
        $expected = $request->expected($site);
        $url = $request->validated('url');
        if ($url === null) {
            $report = Inspector::inspect(Encoding::decode($request->validated('html'), 'utf-8'), $expected);
        } else {
            try {
                $report = Inspector::inspectDelivery($fetcher->fetch($site, $url), $expected);
            } catch (FetchFailed $e) {
                $report = new Report([Delivery::unreachable($url, $e->getMessage())]);
            }
        }

        return response()->json(['source' => $url, ...$report->toArray()]);
    }
}
