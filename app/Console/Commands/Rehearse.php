<?php

namespace App\Console\Commands;

use App\Models\Experiment;
use App\Models\Rehearsal;
use App\Models\Site;
use App\Rehearsals\Rehearsals;
use App\Rehearsals\Report;
use Illuminate\Console\Command;
use Illuminate\Validation\ValidationException;
use Pellix\Core\Rehearsal\Screen;

/** Asks for a rehearsal and follows it: exit 0 where nothing that blocks was found, 1 where something was, 2 for bad input. */
class Rehearse extends Command
{
    private const LONGEST_SECONDS = 1800;

    protected $signature = 'pellix:rehearse {experiment? : its key} {--installation : the main pages of the site instead, with the snippet and without it} {--site= : key of the site, where there are several} {--variant=* : rehearse these only} {--screen=* : desktop, tablet, mobile}
        {--json : everything that was found, as JSON} {--junit= : a file for the results as JUnit XML} {--html= : a file for the report as one HTML page}';

    protected $description = 'Walks a real browser through an experiment, and says what does not work';

    private bool $stopping = false;

    public function handle(Rehearsals $rehearsals): int
    {
        $site = $this->option('installation') ? $this->site() : null;
        $experiment = $this->option('installation') ? null : $this->experiment();
        if ($experiment === null && $site === null) {
            return 2;
        }
        $screens = $this->words('screen');
        $unknown = array_diff($screens, array_column(Screen::cases(), 'value'));
        if ($unknown !== []) {
            return $this->complain('There is no screen '.reset($unknown).'; there are '.implode(', ', array_column(Screen::cases(), 'value')).'.', '--screen');
        }
        foreach (['junit', 'html'] as $option) {
            $file = $this->option($option);
            if (is_string($file) && ! str_starts_with($file, 'php://fd/') && ! is_writable(is_file($file) ? $file : dirname($file))) {
                return $this->complain("{$file} cannot be written.", "--{$option}");
            }
        }
        try {
            $rehearsal = $experiment === null ? $rehearsals->askInstallation($site, 'bin/pellix rehearse') : $rehearsals->ask($experiment, 'bin/pellix rehearse', $this->words('variant'), $screens);
        } catch (ValidationException $e) {
            return $this->complain($e->getMessage(), 'experiment');
        }
        $this->trap([SIGTERM, SIGINT], function (): void {
            $this->stopping = true;
        });
        $rehearsal = $this->follow($rehearsals, $rehearsal);
        $report = Report::of($rehearsal);
        is_string($this->option('junit')) && file_put_contents($this->option('junit'), $report->junit());
        is_string($this->option('html')) && file_put_contents($this->option('html'), $report->html());
        $this->output->write($this->option('json') ? json_encode($report->toArray(), JSON_PRETTY_PRINT | JSON_UNESCAPED_SLASHES | JSON_UNESCAPED_UNICODE | JSON_INVALID_UTF8_SUBSTITUTE)."\n" : $report->text());

        return $rehearsal->state !== 'done' || $rehearsal->blockers > 0 ? 1 : 0;
    }

    private function follow(Rehearsals $rehearsals, Rehearsal $rehearsal): Rehearsal
    {
        $until = time() + self::LONGEST_SECONDS;
        $said = '';
        do {
            $rehearsal->refresh();
            $now = $rehearsal->state === 'waiting' ? 'waiting for the browser' : $rehearsal->doing;
            if ($now !== $said && $now !== '') {
                $said = $now;
                // Beside the result, which may be read by a program.
                fwrite(STDERR, "  {$rehearsal->done} of {$rehearsal->total}  {$now}\n");
            }
            if ($this->stopping || time() > $until) {
                $rehearsals->cancel($rehearsal);
            }
            $rehearsal->isOver() || usleep(250_000);
        } while (! $rehearsal->isOver());

        return $rehearsal->refresh();
    }

    private function site(): ?Site
    {
        $sites = Site::query()->when($this->option('site'), static fn ($query, $site) => $query->where('key', $site))->limit(2)->get();
        if ($sites->count() !== 1) {
            $this->complain($sites->isEmpty() ? 'No site has this key.' : 'There are several sites; say which with --site=KEY.', '--site');

            return null;
        }

        return $sites->first();
    }

    private function experiment(): ?Experiment
    {
        $key = (string) $this->argument('experiment');
        $sites = Site::query()->when($this->option('site'), static fn ($query, $site) => $query->where('key', $site))->get();
        if ($sites->isEmpty()) {
            $this->complain('No site has this key.', '--site');

            return null;
        }
        $found = Experiment::query()->whereIn('site_id', $sites->modelKeys())->where('key', $key)->whereNull('deleted_at')->limit(2)->get();
        if ($found->count() !== 1) {
            $this->complain($found->isEmpty() ? "There is no experiment \"{$key}\"." : "Several sites have an experiment \"{$key}\"; say which with --site=KEY.", $found->isEmpty() ? 'experiment' : '--site');

            return null;
        }

        return $found->first();
    }

    /** @return list<string> */
    private function words(string $option): array
    {
        return array_values(array_unique(array_filter(array_map(trim(...), explode(',', implode(',', (array) $this->option($option)))))));
    }

    private function complain(string $message, string $where): int
    {
        fwrite(STDERR, "{$where}: {$message}\n");

        return 2;
    }
}
