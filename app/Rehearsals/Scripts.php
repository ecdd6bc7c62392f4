<?php

declare(strict_types=1);

namespace App\Rehearsals;

use App\Models\Experiment;
use App\Models\Site;
use App\Models\User;
use App\ReadModel\StoredEvents;
use Carbon\CarbonImmutable;
use Illuminate\Support\Facades\DB;
use Pellix\Core\Events\LogEvent;
use Pellix\Core\Experiments\Experiment as Declared;
use Pellix\Core\Formats\Moment;
use Pellix\Core\Rehearsal\InvalidScript;
use Pellix\Core\Rehearsal\Proposal;
use Pellix\Core\Rehearsal\Script;
use Pellix\Core\Rehearsal\Step;
use Pellix\Core\Rehearsal\Way;

/** The script of an experiment: as somebody has written it, or else as it follows from the experiment. */
final readonly class Scripts
{
    private const MOST_VISITS = 60;
    private const MOST_EVENTS = 300;

    public function __construct(private EntryPages $pages)
    {
    }

    public function of(Experiment $experiment, Declared $declared): Script
    {
        $written = DB::table('rehearsal_scripts')->where('experiment_id', $experiment->id)->value('script');
        try {
            return is_string($written) ? Script::read(json_decode($written, true)) : $this->proposed($experiment, $declared);
        } catch (InvalidScript) {
            return $this->proposed($experiment, $declared);
        }
    }

    /** @return array{script: array<string, mixed>, steps: list<string>, written: bool, by: string|null, at: string|null} */
    public function read(Experiment $experiment): array
    {
        $kept = DB::table('rehearsal_scripts')->where('experiment_id', $experiment->id)->first();
        $script = $this->of($experiment, $experiment->declaredAnew());

        return [
            'script' => $script->toArray(),
            'steps' => array_map(static fn (Step $step): string => $step->words(), $script->steps),
            'written' => $kept !== null,
            'by' => $kept?->by,
            'at' => $kept === null ? null : Moment::format(CarbonImmutable::parse($kept->at, 'UTC')),
        ];
    }

    /** Who has written a script for it; null where nobody has. */
    public function author(Experiment $experiment): ?string
    {
        $by = DB::table('rehearsal_scripts')->where('experiment_id', $experiment->id)->value('by');

        return is_string($by) ? $by : null;
    }

    public function keep(Experiment $experiment, Script $script, User $author): void
    {
        DB::table('rehearsal_scripts')->upsert([['experiment_id' => $experiment->id, 'script' => json_encode($script->toArray(), JSON_THROW_ON_ERROR), 'by' => $author->name, 'at' => CarbonImmutable::now('UTC')->format('Y-m-d H:i:s.v')]], ['experiment_id']);
    }

    /** What follows from the experiment counts again. */
    public function forget(Experiment $experiment): void
    {
        DB::table('rehearsal_scripts')->where('experiment_id', $experiment->id)->delete();
    }

    public function proposed(Experiment $experiment, Declared $declared): Script
    {
        $page = $this->pages->of($experiment->site, $experiment->id, $declared)[0];
        $ways = [];
        foreach ($experiment->goals as $goal) {
            $ways[$goal->key] = Way::shortest($goal->declared(), $declared->pages, $this->visits($experiment->site, $goal->id));
        }

        return Proposal::of($declared, $page, $ways);
    }

    /** @return list<list<LogEvent>> of visitors who reached a goal lately */
    private function visits(Site $site, int $goal): array
    {
        $visitors = DB::table('goal_hits')->where('count_id', DB::table('counts')->where('kind', 'goal')->where('subject_id', $goal)->where('state', 'current')->value('id'))->orderByDesc('time')->limit(self::MOST_VISITS)->pluck('visitor')->unique()->values()->map(strval(...))->all();

        return array_map(static fn (array $rows): array => array_map(StoredEvents::event(...), array_slice($rows, -self::MOST_EVENTS)), array_values(StoredEvents::rows($site->id, $visitors)));
    }
}
