<?php

namespace App\Http\Controllers;

use App\Http\Requests\FeedRequest;
use App\Measures\EventStory;
use App\Measures\Feed;
use App\Models\Site;
use Illuminate\Http\JsonResponse;
use Illuminate\Http\Request;

/** Events as they arrive. */
class FeedController extends Controller
{
    public function index(FeedRequest $request, Site $site, Feed $feed): JsonResponse
    {
        return response()->json($feed->newest($site, $request->filters(), $request->integer('after'), $request->integer('after_rejected')));
    }

    /** Everything that can be told of one event. */
    public function show(Request $request, Site $site, string $event, EventStory $story): JsonResponse
    {
        $visitor = $request->validate(['visitor' => ['nullable', 'string', 'max:64', 'ascii']])['visitor'] ?? null;

        return response()->json($story->of($site, $event, $visitor) ?? abort(404, 'No event of this site has this id.'));
    }
}
