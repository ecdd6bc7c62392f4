<?php

namespace App\Console\Commands;

use App\Publishing\Mirror as Files;
use Illuminate\Console\Command;

/** Where several machines serve the same sites: what one of them publishes, each has a moment later. */
class Mirror extends Command
{
    private const PAUSE_MICROSECONDS = 500_000;
    private const MOST_BYTES = 200_000_000;

    protected $signature = 'pellix:mirror {--once : look once, and end}';

    protected $description = 'Keeps the published files of this machine as the database has them';

    private bool $stopping = false;

    public function handle(Files $files): int
    {
        $this->trap([SIGTERM, SIGINT], function (): void {
            $this->stopping = true;
        });
        while (! $this->stopping && memory_get_usage(true) < self::MOST_BYTES) {
            $files->turn();
            if ($this->option('once')) {
                break;
            }
            usleep(self::PAUSE_MICROSECONDS);
        }

        return self::SUCCESS;
    }
}
