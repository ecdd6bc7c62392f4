<?php

declare(strict_types=1);

namespace App\Experiments;

use App\Inventory\PageCopies;
use App\Models\Experiment;
use App\Models\Goal;
use App\Models\Trial;
use App\Observation\Observer;
use App\ReadModel\Progress;
use App\ReadModel\Readings;
use App\Rehearsals\About;
use Carbon\CarbonImmutable;
use Illuminate\Support\Facades\DB;
use Pellix\Core\Experiments\Experiment as Declared;
use Pellix\Core\Experiments\Ready\GoalRecord;
use Pellix\Core\Experiments\Ready\ReadyFacts;
use Pellix\Core\Experiments\Ready\ReadyList;
use Pellix\Core\Experiments\Ready\ReadyPoint;
use Pellix\Core\InvalidInput;

/** Looks experiments over before they start, from what is kept: figures, inspected pages, recorded hits. */
final readonly class ReadyLists
{
    /** What was looked over is good for so long, as long as the experiment stays what it is. */
    private const GOOD_MINUTES = 10;

    private const RECENT_DAYS = 28;

    public function __construct(private AdviceTrial $advice, private PageCopies $copies, private TargetsSeen $targets, private Observer $observer)
    {
    }

    /** @return list<string> what keeps it from starting, in words: as it was looked over last, or now */
    public function blockers(Experiment $experiment): array
    {
        $kept = Trial::query()->where('site_id', $experiment->site_id)->where('kind', 'ready')->where('state', 'done')
            ->where('started_at', '>=', CarbonImmutable::now('UTC')->subMinutes(self::GOOD_MINUTES))
            ->where('definition->key', $experiment->key)->where('definition->revision', $experiment->revision)->latest('id')->first();
        if ($kept !== null) {
            return array_column(array_filter($kept->result['points'], static fn (array $point): bool => $point['state'] === 'blocker'), 'words');
        }

        return ReadyList::blockers($this->of($experiment, CarbonImmutable::now('UTC')));
    }

    /** @return list<ReadyPoint> */
    public function of(Experiment $experiment, CarbonImmutable $now): array
    {
        $site = $experiment->site;
        $declared = $this->declared($experiment);
        $written = [...($experiment->unfinished->written ?? $experiment->declaration()), 'key' => $experiment->key, 'revision' => $experiment->revision];
        [$advice, $copies] = $this->advice->look($site, $written);

        $rehearsed = Readings::one($site->id, 'rehearsed', (string) $experiment->id);
        $proven = $rehearsed === null || About::since($rehearsed, $experiment) !== [] ? [] : $rehearsed['goals'] ?? [];

        return ReadyList::of(new ReadyFacts(
            $declared,
            $this->observer->observe($experiment, Readings::one($site->id, 'experiment', (string) $experiment->id), Readings::one($site->id, 'inspected', (string) $experiment->id), $now, $rehearsed),
            $advice,
            $copies,
            $declared === null ? [] : $this->targets->copies($site, $declared, $this->copies),
            $declared === null ? [] : array_values(array_filter($experiment->goals->map(static fn (Goal $goal): ?GoalRecord => self::record($goal, $now, $proven[$goal->key] ?? null))->all())),
            $site->cookie_days,
            $site->consent_mode === 'ask',
            $experiment->end_at !== null || $experiment->end_visitors !== null,
            (Progress::ofCounts($site->id, 'experiment')[$experiment->id]['state'] ?? 'building') === 'building',
        ));
    }

    private function declared(Experiment $experiment): ?Declared
    {
        if ($experiment->unfinished()->exists()) {
            return null;
        }
        try {
            return $experiment->declaredAnew();
        } catch (InvalidInput) {
            return null;
        }
    }

    private static function record(Goal $goal, CarbonImmutable $now, ?string $rehearsed): ?GoalRecord
    {
        try {
            $declared = $goal->declared()->in($goal->pivot->role);
        } catch (InvalidInput) {
            return null;
        }
        $count = DB::table('counts')->where('site_id', $goal->site_id)->where('kind', 'goal')->where('subject_id', $goal->id)->whereIn('state', ['current', 'building'])->orderBy('id')->value('id');
        $hits = static fn () => DB::table('goal_hits')->where('count_id', $count ?? 0)->where('counts', 1);
        $recent = static fn () => $hits()->where('time', '>=', $now->subDays(self::RECENT_DAYS)->format('Y-m-d H:i:s.v'));

        return new GoalRecord(
            $declared,
            Observer::moment($hits()->orderByDesc('time')->value('time')),
            $recent()->count(),
            $declared->valueProp === null ? 0 : $recent()->whereNull('value')->count(),
            $declared->valueProp === null ? [] : $recent()->whereNotNull('currency')->distinct()->limit(10)->pluck('currency')->map(strval(...))->all(),
            Observer::moment($rehearsed),
        );
    }
}
