<?php

namespace App\Http\Controllers;

use App\Logbook\Logbook;
use App\Models\Site;
use App\Publishing\Publications;
use App\Publishing\Publisher;
use Illuminate\Http\JsonResponse;
use Illuminate\Http\Request;
use Pellix\Core\Vocabulary\Thing;

/** The files that pages of a site got, by their numbers. */
class PublicationController extends Controller
{
    public function index(Site $site): JsonResponse
    {
        return response()->json(['now' => Publications::now($site), 'newest' => Publications::newest($site)]);
    }

    /** The one that pages get now. */
    public function now(Site $site): JsonResponse
    {
        return response()->json(Publications::now($site));
    }

    /** Publishes what is declared now: after something earlier was put back, or when publishing failed. */
    public function publish(Site $site, Publisher $publisher, Logbook $logbook): JsonResponse
    {
        $publisher->publish($site) || abort(409, "It was not published. {$site->refresh()->publishing['why']} Pages go on with number {$site->published_number}.");
        $logbook->note($site->id, Thing::Published, (string) $site->refresh()->published_number, "Number {$site->published_number}", 'published');

        return $this->index($site);
    }

    public function putBack(Request $request, Site $site, int $number, Publisher $publisher, Logbook $logbook): JsonResponse
    {
        $publisher->putBack($site, $number, $request->user()) ?? abort(409, "It was not put back. {$site->refresh()->publishing['why']}");
        $logbook->note($site->id, Thing::Published, (string) $site->refresh()->published_number, "Number {$site->published_number}", 'put back', note: "What pages got with number {$number}.");

        return $this->index($site);
    }
}
