<?php

namespace App\Http\Controllers;

use App\Metrics\Families;
use App\Metrics\Measurements;
use Illuminate\Http\Request;
use Illuminate\Http\Response;
use Pellix\Core\Formats\Exposition;

/** What was measured of this machine, for whoever watches it and holds the token of the settings. */
class MetricsController extends Controller
{
    private const SHORTEST_TOKEN = 16;

    public function __invoke(Request $request, Measurements $measurements): Response
    {
        $token = (string) config('pellix.metrics_token');
        abort_if(strlen($token) < self::SHORTEST_TOKEN, 404);
        abort_unless(hash_equals($token, (string) $request->bearerToken()), 401, 'This needs the token that PELLIX_METRICS_TOKEN names.');

        return response(Families::text($measurements->all()), 200, ['Content-Type' => Exposition::MEDIA_TYPE, 'Cache-Control' => 'no-store']);
    }
}
