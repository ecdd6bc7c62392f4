<?php

namespace App\Scanning;

use App\Models\Scan;
use Illuminate\Contracts\Queue\ShouldQueue;
use Illuminate\Foundation\Queue\Queueable;

/** One turn of a scan; asks for the next one itself, so that a worker that is stopped loses at most a turn. */
class ContinueScan implements ShouldQueue
{
    use Queueable;

    private const SECONDS = 10;

    public int $tries = 5;

    public function __construct(private readonly int $scan)
    {
    }

    public function handle(Scanner $scanner): void
    {
        $scan = Scan::query()->find($this->scan);
        if ($scan !== null && $scanner->work($scan, self::SECONDS)) {
            self::dispatch($this->scan);
        }
    }
}
