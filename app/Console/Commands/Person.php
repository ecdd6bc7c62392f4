<?php

namespace App\Console\Commands;

use App\Logbook\Logbook;
use App\Models\Site;
use App\Storage\PersonData;
use Illuminate\Console\Command;
use Pellix\Core\Vocabulary\Thing;

class Person extends Command
{
    protected $signature = 'pellix:person {site : key of the site} {--visitor= : id of a visitor} {--user= : id of a user, with the visitors seen as that user}
        {--export= : a file to write everything to that is kept, one JSON object a line} {--erase : erase all of it}';

    protected $description = 'Gives out, or erases, everything that a site keeps of one visitor or user';

    public function handle(Logbook $logbook): int
    {
        $site = Site::query()->where('key', $this->argument('site'))->first();
        [$visitor, $user, $file] = [$this->option('visitor'), $this->option('user'), $this->option('export')];
        $problem = match (true) {
            $site === null => "No site has the key \"{$this->argument('site')}\".",
            ($visitor === null || $visitor === '') === ($user === null || $user === '') => 'Say who: --visitor=ID, or --user=ID.',
            $file === null && $this->option('erase') !== true => 'Say what to do: --export=FILE, --erase, or both.',
            $file !== null && file_exists($file) => "{$file} is there already; choose another name.",
            default => null,
        };
        if ($site === null || $problem !== null) {
            $this->output->getErrorStyle()->writeln((string) $problem);

            return 2;
        }
        $person = is_string($visitor) && $visitor !== '' ? PersonData::ofVisitor($site, $visitor) : PersonData::ofUser($site, (string) $user);
        if ($file !== null) {
            $before = umask(0o077);
            $target = @fopen($file, 'x');
            umask($before);
            if ($target === false) {
                $this->output->getErrorStyle()->writeln("{$file} cannot be written.");

                return 2;
            }
            $number = 0;
            foreach ($person->records() as $record) {
                fwrite($target, json_encode($record, JSON_THROW_ON_ERROR | JSON_UNESCAPED_SLASHES | JSON_UNESCAPED_UNICODE)."\n");
                $number++;
            }
            fclose($target);
            // Whose they were is not said: that would keep what they may want to be forgotten.
            $logbook->note($site->id, Thing::Person, 'visitor', 'A visitor or user', 'given out', note: "{$number} records.");
            $this->line("{$number} records written to {$file}.");
        }
        if ($this->option('erase') === true) {
            $gone = $person->erase();
            $logbook->note($site->id, Thing::Person, 'visitor', 'A visitor or user', 'erased', note: array_sum($gone).' rows.');
            $this->line($gone === [] ? 'Nothing is kept of them.' : 'Erased: '.implode(', ', array_map(static fn (string $table, int $n): string => "{$n} in {$table}", array_keys($gone), $gone)).'. Sums stay.');
        }

        return self::SUCCESS;
    }
}
