<?php

namespace App\Console\Commands;

use App\Audits\StoredAudit;
use App\Cli\AuditText;
use App\Models\Experiment;
use App\Models\Site;
use Carbon\CarbonImmutable;
use Illuminate\Console\Command;

/** Audits an experiment on the stored events: exit 0 fine, 1 a blocker was found, 2 bad input. */
class Audit extends Command
{
    protected $signature = 'pellix:audit {experiment : its key} {--site= : key of the site, where there are several} {--json : everything that was found, as JSON}';

    protected $description = 'Says whether the stored events of an experiment are fit to decide on';

    public function handle(): int
    {
        $site = $this->option('site');
        $found = Experiment::query()->where('key', $this->argument('experiment'))
            ->when($site !== null, static fn ($query) => $query->whereIn('site_id', Site::query()->where('key', $site)->select('id')))->get();
        $complaint = match (true) {
            $found->isEmpty() => "No experiment has the key \"{$this->argument('experiment')}\".",
            $found->count() > 1 => 'Several sites have an experiment of that key; name one: --site=KEY.',
            $found[0]->started_at === null => "The experiment \"{$found[0]->key}\" has not been started: there is nothing to audit.",
            default => null,
        };
        if ($complaint !== null) {
            $this->output->getErrorStyle()->writeln("audit: {$complaint}");

            return 2;
        }
        $report = StoredAudit::of($found[0], CarbonImmutable::now('UTC'));
        $this->output->write($this->option('json') === true
            ? json_encode($report->toArray(), JSON_THROW_ON_ERROR | JSON_UNESCAPED_SLASHES | JSON_UNESCAPED_UNICODE | JSON_INVALID_UTF8_SUBSTITUTE | JSON_PRESERVE_ZERO_FRACTION)."\n"
            : AuditText::of($report), false, \Symfony\Component\Console\Output\OutputInterface::OUTPUT_RAW);

        return $report->isBlocked() ? 1 : 0;
    }
}
