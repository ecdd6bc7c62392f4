<?php

namespace Demo\Console;

use App\Models\Experiment;
use App\Models\Site;
use Demo\Library;
use Demo\Traffic\Simulation;
use Illuminate\Console\Command;
use Pellix\Core\Experiments\DeclaredVariant;

class Simulate extends Command
{
    protected $signature = 'pellix:simulate {--experiment=} {--visitors=} {--seed=} {--lose=}';

    protected $description = 'Sends simulated visitors of the demo site through the collector';

    public function handle(): int
    {
        $site = Site::query()->where('key', Library::SITE_KEY)->firstOrFail();
        $experiment = $site->experiments()->where('key', (string) $this->option('experiment'))->first();
        $visitors = filter_var($this->option('visitors'), FILTER_VALIDATE_INT, ['options' => ['min_range' => 1, 'max_range' => 1_000_000]]);
        $seed = filter_var($this->option('seed') ?? random_int(1, PHP_INT_MAX), FILTER_VALIDATE_INT);
        $complaint = match (true) {
            $experiment === null => $this->unknownExperiment($site),
            $experiment->state !== 'running' => "The experiment \"{$experiment->key}\" is {$experiment->state}; visitors meet only running ones. Start it first.",
            $visitors === false => 'Say how many visitors: --visitors=2000 (1 to 1000000).',
            $seed === false => 'The seed is a whole number: --seed=7.',
            default => null,
        };
        $lose = $complaint === null ? $this->lose($experiment, $complaint) : null;
        if ($complaint !== null) {
            $this->output->getErrorStyle()->writeln($complaint);

            return 2;
        }

        return $this->send($site, $experiment, $visitors, $seed, $lose);
    }

    /** @param array{string, float}|null $lose */
    private function send(Site $site, Experiment $experiment, int $visitors, int $seed, ?array $lose): int
    {
        $running = $site->experiments()->where('state', 'running')->with('goals')->orderBy('id')->get();
        $simulation = new Simulation(
            rtrim((string) config('app.url'), '/').'/c',
            (string) config('pellix.demo_origin'),
            $running->map(static fn (Experiment $one) => $one->declared())->all(),
            $experiment->declared(),
            $seed,
            $lose,
        );
        if ($simulation->page === null) {
            $this->output->getErrorStyle()->writeln(
                "No page of the demo site matches the page rule of \"{$experiment->key}\". Its pages are: ".implode(', ', Library::paths()),
            );

            return 2;
        }
        $bar = $this->output->createProgressBar($visitors);
        $began = microtime(true);
        $result = $simulation->send($visitors, static fn () => $bar->advance());
        $bar->finish();
        $this->newLine(2);
        $this->line(sprintf(
            '%d visitors with seed %d in %.1f s: %d events accepted, %d repeated, %d rejected, %d beacons failed, %d visitors lost on the way.',
            $visitors,
            $seed,
            microtime(true) - $began,
            $result['accepted'],
            $result['repeated'],
            $result['rejected'],
            $result['failed'],
            $result['lost'],
        ));

        return $result['failed'] + $result['rejected'] > 0 ? 1 : 0;
    }

    private function unknownExperiment(Site $site): string
    {
        $running = $site->experiments()->where('state', 'running')->pluck('key')->implode(', ');

        return $this->option('experiment') === null
            ? "Say which experiment: --experiment=KEY. Running are: {$running}"
            : "There is no experiment \"{$this->option('experiment')}\". Running are: {$running}";
    }

    /** @return array{string, float}|null the variant that loses visitors, and which part of them */
    private function lose(Experiment $experiment, ?string &$complaint): ?array
    {
        $text = $this->option('lose');
        if ($text === null) {
            return null;
        }
        $keys = array_map(static fn (DeclaredVariant $variant): string => $variant->variant->key, $experiment->declared()->variants);
        if (preg_match('/\A([^:]+):(\d+(?:\.\d+)?)\z/', $text, $m) !== 1 || ! in_array($m[1], $keys, true) || (float) $m[2] > 100) {
            $complaint = 'To lose visitors, name a variant and a percentage: --lose='.end($keys).':10. The variants are: '.implode(', ', $keys);

            return null;
        }

        return [$m[1], (float) $m[2] / 100];
    }
}
