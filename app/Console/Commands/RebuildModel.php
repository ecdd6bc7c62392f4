<?php

namespace App\Console\Commands;

use App\Models\Site;
use App\ReadModel\Counts;
use App\ReadModel\Gatherer;
use App\ReadModel\Progress;
use App\ReadModel\Readings;
use App\ReadModel\Rebuild;
use Illuminate\Console\Command;

class RebuildModel extends Command
{
    protected $signature = 'pellix:rebuild {--site= : key of one site; all of them without}';

    protected $description = 'Throws the figures away and makes them again from the events, while new ones arrive';

    public function handle(Rebuild $rebuild, Gatherer $gatherer, Counts $counts, Readings $readings): int
    {
        $sites = Site::query()->when($this->option('site'), static fn ($q, string $key) => $q->where('key', $key))->orderBy('id')->get();
        if ($sites->isEmpty()) {
            $this->output->getErrorStyle()->writeln($this->option('site') === null ? 'There is no site.' : "There is no site with the key \"{$this->option('site')}\".");

            return 2;
        }
        foreach ($sites as $site) {
            $this->line($site->name);
            $counts->reconcile($site);
            $rebuild->begin($site);
            $bar = $this->output->createProgressBar();
            while ($rebuild->work($site)) {
                $progress = Progress::ofSite($site->id);
                $bar->setMaxSteps(max(1, $progress['total']));
                $bar->setProgress(min($progress['done'], max(1, $progress['total'])));
            }
            $gatherer->untilIdle($site, $readings);
            $bar->finish();
            $this->newLine();
        }

        return 0;
    }
}
