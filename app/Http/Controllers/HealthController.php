<?php

namespace App\Http\Controllers;

use App\Observation\Health;
use Illuminate\Http\JsonResponse;

class HealthController extends Controller
{
    public function __invoke(): JsonResponse
    {
        $health = Health::now();

        return response()->json(
            ['well' => $health->isWell(), 'database' => $health->database, 'processes' => (object) $health->processes, 'behind_seconds' => $health->behind],
            $health->isWell() ? 200 : 503,
            ['Cache-Control' => 'no-store'],
        );
    }
}
