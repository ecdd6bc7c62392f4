<?php

namespace App\Console\Commands;

use App\Experiments\Timetable;
use App\Models\Site;
use Illuminate\Console\Command;

/** Starts and ends what is due: the worker does so within seconds; this is for when it is busy, or does not run. */
class Due extends Command
{
    protected $signature = 'pellix:due';

    protected $description = 'Starts and ends the experiments whose time has come';

    public function handle(Timetable $timetable): void
    {
        Site::query()->whereNull('archived_at')->each(static fn (Site $site) => $timetable->make($site));
    }
}
