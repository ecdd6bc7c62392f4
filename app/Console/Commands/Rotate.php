<?php

namespace App\Console\Commands;

use Illuminate\Console\Command;

class Rotate extends Command
{
    private const LARGEST = 10_000_000;

    protected $signature = 'pellix:rotate';

    protected $description = 'Keeps each log of this copy under 10 MB and not longer than its days, and one older piece of it as long again';

    public function handle(): int
    {
        $data = getenv('PELLIX_DATA') ?: storage_path('..');
        $days = (int) config('pellix.keep_days.logs');
        foreach ([...glob("{$data}/log/*.log") ?: [], ...glob(storage_path('logs/*.log')) ?: []] as $log) {
            clearstatcache(true, $log);
            $older = "{$log}.1";
            // A piece is as old as the last that was written into it.
            if ($days > 0 && is_file($older) && filemtime($older) < time() - 86400 * $days) {
                unlink($older);
            }
            $begun = "{$log}.begun";
            is_file($begun) || touch($begun);
            $isOld = $days > 0 && filemtime($begun) < time() - 86400 * $days && filesize($log) > 0;
            if ($isOld || (filesize($log) ?: 0) > self::LARGEST) {
                // Whoever writes keeps the file open, and goes on at its new end.
                copy($log, $older);
                file_put_contents($log, '');
                touch($begun);
                $this->line("{$log} was begun anew.");
            }
        }

        return self::SUCCESS;
    }
}
