<?php

namespace App\Http\Controllers;

use App\Http\Requests\InspectRequest;
use App\Models\Site;
use Illuminate\Http\JsonResponse;
use Pellix\Core\Wiring\Html\Encoding;
use Pellix\Core\Wiring\Inspection\Inspector;

class InspectionController extends Controller
{
    public function store(InspectRequest $request, Site $site): JsonResponse
    {
        $report = Inspector::inspect(Encoding::decode($request->validated('html'), 'utf-8'), $request->expected($site));

        return response()->json($report->toArray());
    }
}
