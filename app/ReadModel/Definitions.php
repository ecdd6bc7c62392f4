<?php

namespace App\ReadModel;

use App\Models\Experiment;
use App\Models\Goal;
use App\Models\Site;
use Carbon\CarbonImmutable;
use Illuminate\Support\Facades\DB;
use Pellix\Core\Events\ClockShift;
use Pellix\Core\Experiments\Experiment as Declared;
use Pellix\Core\Experiments\Periods;
use Pellix\Core\InvalidInput;

/** Everything that is counted on a site, read once; one that cannot be read says so at its own place and leaves the rest alone. */
final readonly class Definitions
{
    /** What ended before the latest event that may still arrive happened, with a day's margin, cannot change any more. */
    private const SETTLED_SECONDS = ClockShift::LATEST_SECONDS + 86400;

    /** Before the start, page views of the week before the last change tell whether its pages and the snippet are there. */
    private const DAYS_BEFORE_START = 7;

    /**
     * @param array<int, GoalCount>       $goals       by the id of their count
     * @param array<int, ExperimentCount> $experiments by the id of their count
     * @param int                         $version     of `sites.definitions`, for which they were read
     */
    private function __construct(public Site $site, public array $goals, public array $experiments, public int $version)
    {
    }

    /** @param bool $fromScratch whether everything is counted from the first event on */
    public static function of(Site $site, bool $fromScratch = false): self
    {
        $counts = DB::table('counts')->where('site_id', $site->id)->whereIn('state', ['current', 'building'])->orderBy('id')->get();
        $goals = [];
        foreach ($counts->where('kind', 'goal') as $count) {
            $goal = self::guarded($count, static fn () => \Pellix\Core\Goals\Goal::read(json_decode($count->definition, true)['goal']));
            if ($goal !== null) {
                $goals[(int) $count->id] = new GoalCount((int) $count->id, (int) $count->subject_id, $goal);
            }
        }
        $experiments = [];
        $kept = Experiment::query()->where('site_id', $site->id)->with('goals', 'revisions', 'site')->get()->keyBy('id');
        $limit = CarbonImmutable::now('UTC')->subSeconds(self::SETTLED_SECONDS);
        // A goal that is counted anew is so for what has ended, too.
        $onlyOpen = ! $fromScratch && $counts->where('kind', 'goal')->where('state', 'building')->isEmpty();
        foreach ($counts->where('kind', 'experiment') as $count) {
            $experiment = $kept->get((int) $count->subject_id);
            $settled = $experiment !== null && ! $fromScratch && $count->state === 'current' && self::isSettled($experiment, $limit);
            if ($experiment === null || ($settled && $onlyOpen)) {
                continue;
            }
            $declared = self::guarded($count, static fn (): Declared => $experiment->declared());
            if ($declared !== null) {
                $ids = $experiment->goals->modelKeys();
                $own = array_values(array_filter($goals, static fn (GoalCount $one): bool => in_array($one->goalId, $ids, true)));
                $ran = self::periods($experiment);
                $experiments[(int) $count->id] = new ExperimentCount((int) $count->id, $experiment->id, $declared, $ran, $own, $settled, $experiment->revision, new UnitBook($experiment, $declared, $ran, $own));
            }
        }

        return new self($site, $goals, $experiments, $site->definitions);
    }

    public static function periods(Experiment $experiment): Periods
    {
        $ran = $experiment->ran();

        return $ran->all === [] ? new Periods([[$experiment->changed_at->subDays(self::DAYS_BEFORE_START), null]]) : $ran;
    }

    private static function isSettled(Experiment $experiment, CarbonImmutable $limit): bool
    {
        return in_array($experiment->state, ['ended', 'archived'], true) && $experiment->changed_at < $limit && $experiment->ended_at !== null && $experiment->ended_at < $limit;
    }

    /**
     * @template T
     *
     * @param callable(): T $read
     *
     * @return T|null
     */
    private static function guarded(object $count, callable $read): mixed
    {
        try {
            $value = $read();
            $complaint = null;
        } catch (InvalidInput $e) {
            $value = null;
            $complaint = mb_strcut("It cannot be counted: {$e->field}: {$e->getMessage()}", 0, 500, 'UTF-8');
        }
        if ($complaint !== $count->error) {
            DB::table('counts')->where('id', $count->id)->update(['error' => $complaint]);
        }

        return $value;
    }
}
