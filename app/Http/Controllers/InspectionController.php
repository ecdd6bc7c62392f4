<?php

namespace App\Http\Controllers;

use App\Fetching\FetchFailed;
use App\Fetching\PageFetcher;
use App\Http\Requests\InspectArchiveRequest;
use App\Http\Requests\InspectRequest;
use App\Models\Site;
use Illuminate\Http\JsonResponse;
use Illuminate\Validation\ValidationException;
use Pellix\Core\InvalidInput;
use Pellix\Core\Wiring\Har\Capture;
use Pellix\Core\Wiring\Har\CaptureInspector;
use Pellix\Core\Wiring\Har\InvalidHar;
use Pellix\Core\Wiring\Html\Encoding;
use Pellix\Core\Wiring\Inspection\Delivery;
use Pellix\Core\Wiring\Inspection\Expectation;
use Pellix\Core\Wiring\Inspection\Inspector;
use Pellix\Core\Wiring\Inspection\Report;

class InspectionController extends Controller
{
    public function store(InspectRequest $request, Site $site, PageFetcher $fetcher): JsonResponse
    {
        $expected = $request->expected($site);
        $url = $request->validated('url');
        $har = $request->validated('har');
        if ($url !== null) {
            try {
                $report = Inspector::inspectDelivery($fetcher->fetch($site, $url), $expected);
            } catch (FetchFailed $e) {
                $report = new Report([Delivery::unreachable($url, $e->getMessage())]);
            }

            return response()->json(['source' => $url, ...$report->toArray()]);
        }
        if ($har !== null) {
            return response()->json($this->captured($har, $expected, 'har'));
        }
        $report = Inspector::inspect(Encoding::decode($request->validated('html'), 'utf-8'), $expected);

        return response()->json(['source' => null, ...$report->toArray()]);
    }

    /** A file as it was kept: a page, a capture, or every page of a zip. */
    public function archive(InspectArchiveRequest $request, Site $site): JsonResponse
    {
        $expected = $request->expected($site);
        $capture = $request->recorded();
        if ($capture !== null) {
            return response()->json([$this->captured($capture, $expected, 'archive')]);
        }
        $reports = [];
        foreach ($request->pages() as $name => $html) {
            $reports[] = ['source' => $name, ...Inspector::inspectFile($name, $html, $expected)->toArray()];
        }

        return response()->json($reports);
    }

    /** @return array<string, mixed> */
    private function captured(string $har, Expectation $expected, string $field): array
    {
        try {
            [$report, $calls] = CaptureInspector::inspect(Capture::parse($har), $expected);
        } catch (InvalidInput $e) {
            $place = $e instanceof InvalidHar ? "{$e->field}: " : '';
            throw ValidationException::withMessages([$field => "{$place}{$e->getMessage()}"]);
        }

        return ['source' => null, ...$report->toArray(), 'calls' => $calls];
    }
}
