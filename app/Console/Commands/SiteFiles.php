<?php

namespace App\Console\Commands;

use App\Models\Site;
use App\Sites\SiteExport;
use Illuminate\Console\Command;

class SiteFiles extends Command
{
    protected $signature = 'pellix:site {key : key of the site} {--events= : a file for its event log, NDJSON} {--declared= : a file for what was declared, JSON}';

    protected $description = 'Gives a site out in the open formats: its events, and what was declared';

    public function handle(): int
    {
        $site = Site::query()->whereNull('deleting_at')->where('key', $this->argument('key'))->first();
        $files = array_filter(['events' => $this->option('events'), 'declared' => $this->option('declared')], static fn (mixed $one): bool => is_string($one) && $one !== '');
        $problem = match (true) {
            $site === null => "No site has the key \"{$this->argument('key')}\".",
            $files === [] => 'Say what to write: --events=FILE, --declared=FILE, or both.',
            array_filter($files, file_exists(...)) !== [] => implode(', ', array_filter($files, file_exists(...))).' is there already; choose another name.',
            default => null,
        };
        if ($site === null || $problem !== null) {
            $this->output->getErrorStyle()->writeln((string) $problem);

            return 2;
        }
        $export = new SiteExport($site);
        foreach ($files as $what => $name) {
            // What visitors did is for whoever asked alone.
            $before = umask(0o077);
            $file = @fopen($name, 'x');
            umask($before);
            if ($file === false) {
                $this->output->getErrorStyle()->writeln("{$name} cannot be written.");

                return 2;
            }
            $n = 0;
            foreach ($what === 'events' ? $export->events() : [$export->declared()] as $one) {
                // An object without members is one.
                fwrite($file, json_encode($what === 'events' ? [...$one, 'props' => (object) $one['props']] : $one, JSON_THROW_ON_ERROR | JSON_UNESCAPED_SLASHES | JSON_UNESCAPED_UNICODE | JSON_PRESERVE_ZERO_FRACTION)."\n");
                $n++;
            }
            fclose($file);
            $this->line($what === 'events' ? number_format($n)." events written to {$name}." : "What was declared is written to {$name}.");
        }

        return self::SUCCESS;
    }
}
