<?php

namespace App\Console\Commands;

use App\Companion;
use Illuminate\Console\Command;

class Fill extends Command
{
    protected $signature = 'pellix:fill';

    protected $description = 'Fills a copy that is empty with what its companion brings, such as the demo';

    public function handle(): int
    {
        if (! $this->laravel->bound(Companion::class)) {
            $this->line('This copy has no companion; it stays as it is.');

            return 0;
        }
        $seeder = $this->laravel->make(Companion::class)->seeder();
        $this->laravel->make($seeder)->setContainer($this->laravel)->setCommand($this)->__invoke();

        return 0;
    }
}
