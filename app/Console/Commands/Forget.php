<?php

namespace App\Console\Commands;

use App\Storage\EventMonths;
use App\Storage\Retention;
use Carbon\CarbonImmutable;
use Illuminate\Console\Command;

class Forget extends Command
{
    protected $signature = 'pellix:forget';

    protected $description = 'Forgets what is older than the settings say: events by whole months, rejected events, inspections, what was told';

    public function handle(Retention $retention, EventMonths $months): int
    {
        $now = CarbonImmutable::now('UTC');
        /** @var array{events: int, rejected: int, inspections: int, notices: int, previews: int} $days */
        $days = config('pellix.keep_days');
        // A month is old when its last day is. What an experiment still needs is refused there, and told.
        $limit = $now->subDays($days['events'])->format('Y-m');
        foreach ($days['events'] > 0 ? $months->all() : [] as $month) {
            $month < $limit && $this->call('pellix:months', ['--drop' => $month]);
        }
        if ($days['rejected'] > 0) {
            $this->line(number_format($retention->forgetRejected($now->subDays($days['rejected']))).' rejected events are gone; how many there were is kept.');
            $retention->forgetStrangers($now->subDays($days['rejected']));
        }
        if ($days['inspections'] > 0) {
            $this->line(number_format($retention->forgetInspections($now->subDays($days['inspections']))).' inspections are gone; the newest of each page is kept.');
        }
        if ($days['previews'] > 0) {
            $this->line(number_format($retention->forgetApart($now->subDays($days['previews']))).' events of previews and of own people are gone.');
        }
        if ($days['notices'] > 0) {
            $this->line(number_format($retention->forgetNotices($now->subDays($days['notices']))).' mails and deliveries are gone.');
        }
        $security = (int) config('pellix.keep_security_days');
        if ($security > 0) {
            $this->line(number_format($retention->forgetSecurity($now->subDays($security))).' entries of the security log, sessions and links are gone.');
        }

        return self::SUCCESS;
    }
}
