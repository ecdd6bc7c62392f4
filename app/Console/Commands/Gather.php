<?php

namespace App\Console\Commands;

use App\ReadModel\Worker;
use Illuminate\Console\Command;

/** The worker that keeps the figures up to date. Ends after a while, for whoever supervises it to start it afresh. */
class Gather extends Command
{
    private const IDLE_MICROSECONDS = 250_000;
    private const MOST_BYTES = 400_000_000;

    protected $signature = 'pellix:gather {--once : take in what there is, and end}';

    protected $description = 'Keeps the figures of all sites up to date';

    private bool $stopping = false;

    public function handle(Worker $worker): int
    {
        $this->trap([SIGTERM, SIGINT], function (): void {
            $this->stopping = true;
        });
        do {
            $pause = $worker->turn();
            if ($this->option('once')) {
                if ($pause === null) {
                    break;
                }
                continue;
            }
            usleep($pause === null ? self::IDLE_MICROSECONDS : (int) (1e6 * $pause));
        } while (! $this->stopping && memory_get_usage(true) < self::MOST_BYTES);

        return 0;
    }
}
