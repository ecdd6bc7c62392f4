<?php

namespace App\Console\Commands;

use Illuminate\Console\Command;

class Rotate extends Command
{
    private const LARGEST = 10_000_000;

    protected $signature = 'pellix:rotate';

    protected $description = 'Keeps each log of this copy under 10 MB, and one older piece of it';

    public function handle(): int
    {
        $data = getenv('PELLIX_DATA') ?: storage_path('..');
        foreach ([...glob("{$data}/log/*.log") ?: [], ...glob(storage_path('logs/*.log')) ?: []] as $log) {
            clearstatcache(true, $log);
            if ((filesize($log) ?: 0) > self::LARGEST) {
                // Whoever writes keeps the file open, and goes on at its new end.
                copy($log, "{$log}.1");
                file_put_contents($log, '');
                $this->line("{$log} was begun anew.");
            }
        }

        return self::SUCCESS;
    }
}
