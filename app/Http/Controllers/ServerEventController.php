<?php

namespace App\Http\Controllers;

use App\Collector\BackOffice;
use App\Models\Site;
use Carbon\CarbonImmutable;
use Illuminate\Http\JsonResponse;
use Illuminate\Http\Request;

/** Orders and events from a site's own back office, with a token. */
class ServerEventController extends Controller
{
    public function store(Request $request, Site $site, BackOffice $office): JsonResponse
    {
        $request->validate(
            ['events' => ['required', 'array', 'list', 'max:100']],
            ['events.required' => 'A list of events is needed: {"events": […]}.'],
        );
        // As they came: Laravel would trim texts and turn empty ones into null.
        $events = json_decode($request->getContent(), true)['events'] ?? $request->input('events');
        $answer = $office->take($site, $events, CarbonImmutable::now('UTC'));

        return response()->json($answer->json, $answer->status);
    }
}
