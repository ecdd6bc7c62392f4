<?php

namespace App\Http\Controllers;

use Illuminate\Http\JsonResponse;
use Illuminate\Support\Facades\DB;

/** What of this copy lives: for whoever watches it. Names and yes or no, nothing else. */
class HealthController extends Controller
{
    /** Figures that are further behind than this are a fault of whoever makes them. */
    private const PATIENCE_SECONDS = 120;

    public function __invoke(): JsonResponse
    {
        try {
            $oldest = DB::table('arrivals')->orderBy('id')->value('received');
            $behind = $oldest === null ? 0 : max(0, time() - (int) strtotime("{$oldest} UTC"));
            $database = true;
        } catch (\Throwable) {
            [$behind, $database] = [null, false];
        }
        // The keepers note the process of each server and worker beside the database's socket (bin/lib/keep.sh).
        $processes = [];
        foreach (glob(dirname((string) config('database.connections.mariadb.unix_socket')).'/pids/*') ?: [] as $file) {
            $processes[basename($file)] = is_dir('/proc/'.(int) file_get_contents($file));
        }
        $isWell = $database && ! in_array(false, $processes, true) && $behind <= self::PATIENCE_SECONDS;

        return response()->json(['well' => $isWell, 'database' => $database, 'processes' => (object) $processes, 'behind_seconds' => $behind], $isWell ? 200 : 503, ['Cache-Control' => 'no-store']);
    }
}
