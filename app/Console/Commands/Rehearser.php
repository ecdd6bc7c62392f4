<?php

namespace App\Console\Commands;

use App\Rehearsals\Browser\Leftovers;
use App\Rehearsals\Rehearser as Player;
use Illuminate\Console\Command;

/** The worker that plays rehearsals, one at a time. Ends after a while, for whoever supervises it to start it afresh. */
class Rehearser extends Command
{
    private const IDLE_MICROSECONDS = 500_000;
    private const MOST_BYTES = 400_000_000;

    protected $signature = 'pellix:rehearser {--once : play what waits, and end}';

    protected $description = 'Plays rehearsals in a real browser';

    private bool $stopping = false;

    public function handle(Player $player): int
    {
        $this->trap([SIGTERM, SIGINT], function (): void {
            $this->stopping = true;
        });
        $folder = (string) config('pellix.rehearsals');
        // Whatever an earlier one was killed over.
        Leftovers::end($folder);
        $player->takeBack((string) gethostname());
        $worker = gethostname().':'.getmypid();
        do {
            $rehearsal = $player->next($worker);
            if ($rehearsal !== null) {
                try {
                    $player->play($rehearsal, $folder, fn (): bool => $this->stopping);
                } catch (\Throwable $e) {
                    report($e);
                    $rehearsal->newQuery()->whereKey($rehearsal->id)->where('state', 'running')->update(['state' => 'failed', 'doing' => mb_substr($e->getMessage(), 0, 200), 'ended_at' => now('UTC')->format('Y-m-d H:i:s.v')]);
                } finally {
                    Leftovers::end($folder);
                }
            } elseif ($this->option('once')) {
                break;
            } else {
                usleep(self::IDLE_MICROSECONDS);
            }
        } while (! $this->stopping && memory_get_usage(true) < self::MOST_BYTES);

        return 0;
    }
}
