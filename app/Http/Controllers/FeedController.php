<?php

namespace App\Http\Controllers;

use App\Http\Requests\FeedRequest;
use App\Measures\EventStory;
use App\Measures\Feed;
use App\Models\Site;
use Illuminate\Http\JsonResponse;

/** Events as they arrive. */
class FeedController extends Controller
{
    public function index(FeedRequest $request, Site $site, Feed $feed): JsonResponse
    {
        return response()->json($feed->newest($site, $request->filters(), $request->integer('after'), $request->integer('after_rejected')));
    }

    /** Everything that can be told of one event. */
    public function show(Site $site, string $event, EventStory $story): JsonResponse
    {
        return response()->json($story->of($site, $event) ?? abort(404, 'No event of this site has this id.'));
    }
}
