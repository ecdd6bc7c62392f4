<?php

use App\Audits\Glances;
use App\Audits\Watchman;
use App\Models\Site;
use App\Notices\Deliverer;
use App\Notices\Digests;
use App\Rehearsals\Again;
use App\Scanning\Scanner;
use App\Sites\SiteKeys;
use App\Sites\SiteRemover;
use Carbon\CarbonImmutable;
use Illuminate\Support\Facades\Schedule;

// Of several machines that share a database, one does each of these; what is of each machine says so.

// Months to come get their place, and ids that nobody can send again are forgotten.
Schedule::command('pellix:months')->name('months')->dailyAt('02:30')->withoutOverlapping()->onOneServer();

// Experiments start and end at their times, also where the worker that looks for them is busy.
Schedule::command('pellix:due')->name('due')->everyMinute()->withoutOverlapping(5)->onOneServer();

// Rehearsals that are held by themselves.
Schedule::call(static fn (Again $again) => $again->due(CarbonImmutable::now('UTC')))->name('rehearsals')->everyMinute()->withoutOverlapping(5)->onOneServer();

// Running experiments are audited every day, and after a publication.
Schedule::call(static fn (Watchman $watchman) => $watchman->due(CarbonImmutable::now('UTC')))->name('audits')->everyMinute()->withoutOverlapping(5)->onOneServer();

// Between audits the split is looked at by what is new alone.
Schedule::call(static fn (Glances $glances) => $glances->due(CarbonImmutable::now('UTC')))->name('glances')->everyTenMinutes()->withoutOverlapping(9)->onOneServer();

// What is to be told is told; what did not get through is tried again.
Schedule::call(static fn (Deliverer $deliverer) => $deliverer->due(CarbonImmutable::now('UTC')))->name('notices')->everyMinute()->withoutOverlapping(5)->onOneServer();
Schedule::call(static fn (Digests $digests) => $digests->due(CarbonImmutable::now('UTC')))->name('digests')->everyFiveMinutes()->withoutOverlapping(5)->onOneServer();

// Sites that somebody has deleted go bit by bit.
Schedule::call(static fn (SiteRemover $remover) => $remover->due(CarbonImmutable::now('UTC')))->name('deleted sites')->everyMinute()->withoutOverlapping(5)->onOneServer();

// Keys of sites that have ended.
Schedule::call(static fn (SiteKeys $keys) => $keys->due(CarbonImmutable::now('UTC')))->name('ended keys')->everyMinute()->withoutOverlapping(5)->onOneServer();

// What /metrics tells, of each machine.
Schedule::command('pellix:measure')->name('measure')->everyMinute();

// What is older than the settings say is forgotten, and logs stay small.
Schedule::command('pellix:forget')->name('forget')->dailyAt('02:45')->withoutOverlapping()->onOneServer();
// Of each machine.
Schedule::command('pellix:rotate')->name('rotate')->hourly();

// Every known page is inspected again each night, so that one that lost its code is noticed by the morning.
Schedule::call(static function (Scanner $scanner): void {
    Site::query()->whereNull('archived_at')->whereHas('pages')->whereDoesntHave('scans', static fn ($scans) => $scans->where('state', 'running'))
        ->each(static fn (Site $site) => $scanner->start($site, 'inspect', 'the daily scan'));
})->name('daily scan')->dailyAt('03:30')->withoutOverlapping()->onOneServer();
