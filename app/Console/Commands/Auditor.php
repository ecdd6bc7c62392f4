<?php

namespace App\Console\Commands;

use App\Audits\Auditor as Maker;
use App\Audits\Reconciler;
use App\Audits\RowFinder;
use Illuminate\Console\Command;

/** The worker that makes audits, and holds other sources against them, one at a time. Ends after a while, for whoever supervises it to start it afresh. */
class Auditor extends Command
{
    private const IDLE_MICROSECONDS = 500_000;
    private const MOST_BYTES = 300_000_000;

    protected $signature = 'pellix:auditor {--once : make what waits, and end}';

    protected $description = 'Makes the audits that somebody, or the daily watch, has asked for';

    private bool $stopping = false;

    public function handle(Maker $maker, Reconciler $reconciler, RowFinder $finder): int
    {
        $this->trap([SIGTERM, SIGINT], function (): void {
            $this->stopping = true;
        });
        $maker->takeBack((string) gethostname());
        $worker = gethostname().':'.getmypid();
        do {
            $audit = $maker->next($worker);
            $asked = $reconciler->next($worker);
            $audit === null || $maker->make($audit, fn (): bool => $this->stopping);
            $asked === null || $reconciler->make($asked);
            $rows = $finder->next($worker);
            $rows === null || $finder->make($rows);
            if ($audit !== null || $asked !== null || $rows !== null) {
                continue;
            }
            if ($this->option('once')) {
                break;
            }
            usleep(self::IDLE_MICROSECONDS);
        } while (! $this->stopping && memory_get_usage(true) < self::MOST_BYTES);

        return 0;
    }
}
