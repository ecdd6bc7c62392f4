<?php

declare(strict_types=1);

namespace App\Readouts;

use App\Models\Experiment;
use App\Models\Site;
use App\ReadModel\Readings;
use App\ReadModel\ReadoutSums;
use App\ReadModel\Round;
use App\ReadModel\UnitBook;
use Carbon\CarbonImmutable;
use Illuminate\Support\Facades\DB;
use Pellix\Core\Formats\Moment;
use Pellix\Core\InvalidInput;
use Pellix\Core\Readout\Details;
use Pellix\Core\Readout\Gate;
use Pellix\Core\Readout\Item;
use Pellix\Core\Readout\Look;
use Pellix\Core\Readout\Proposal;
use Pellix\Core\Readout\Readout;
use Pellix\Core\Readout\Subject;

/** Puts readouts together from the sums that are kept, whenever these have changed or a planned end has come: requests only read them. */
final class ReadoutMaker implements Round
{
    /** One is made again after so many times the seconds that it took; never sooner than so many. */
    private const PATIENCE = 20;
    private const SOONEST = 5.0;

    /** Of those that wait, so many are made in one round. */
    private const AT_ONCE = 3;

    /** @var array<int, float> experiment => not to be made again before then */
    private array $notBefore = [];

    public function make(Site $site): bool
    {
        $read = DB::table('readings')->where('site_id', $site->id)->where('kind', 'experiment')->pluck('read_at', 'subject');
        $made = Readings::all($site->id, 'readout-of');
        $waiting = 0;
        foreach (DB::table('experiments')->where('site_id', $site->id)->whereNull('deleted_at')->whereNotNull('started_at')->where('state', '<>', 'draft')->orderBy('id')->get(['id', 'revision', 'state', 'ended_at']) as $one) {
            $last = $made[$one->id] ?? ['stamp' => '', 'end' => null];
            $stamp = implode(' ', [$read[$one->id] ?? '', $one->revision, $one->state, $one->ended_at ?? '-', self::isOver($last['end'] ?? null) ? 'over' : 'open']);
            if (! isset($read[$one->id]) || $stamp === ($last['stamp'] ?? '') || microtime(true) < ($this->notBefore[$one->id] ?? 0.0)) {
                continue;
            }
            if (++$waiting > self::AT_ONCE) {
                return true;
            }
            $begin = microtime(true);
            try {
                $experiment = Experiment::query()->with('goals', 'revisions')->findOrFail($one->id)->setRelation('site', $site);
                $this->keep($experiment);
                $end = self::plannedEnd($experiment)?->format('Y-m-d H:i:s');
                // As it will be looked at the next time, with the end that is known by now.
                $stamp = preg_replace('/\w+\z/', self::isOver($end) ? 'over' : 'open', $stamp);
                Readings::keep($site->id, 'readout-of', (string) $one->id, ['stamp' => $stamp, 'end' => $end]);
            } catch (\Throwable $e) {
                // One that cannot be read out keeps no other from it.
                report($e);
            }
            $this->notBefore[$one->id] = microtime(true) + max(self::SOONEST, self::PATIENCE * (microtime(true) - $begin));
        }

        return false;
    }

    private static function isOver(?string $end): bool
    {
        return $end !== null && $end <= CarbonImmutable::now('UTC')->format('Y-m-d H:i:s');
    }

    private function keep(Experiment $experiment): void
    {
        $now = CarbonImmutable::now('UTC');
        try {
            $readout = self::of($experiment, $now);
        } catch (InvalidInput $e) {
            Readings::keep($experiment->site_id, 'readout', (string) $experiment->id, ['at' => Moment::format($now), 'problem' => "It cannot be read out: {$e->field}: {$e->getMessage()}"]);

            return;
        }
        if ($readout !== null) {
            Readings::keep($experiment->site_id, 'readout', (string) $experiment->id, ['at' => Moment::format($now), 'figures' => [...$readout->figures(), ...Details::of($readout)], 'proposal' => Proposal::of($readout)?->toArray()]);
        }
    }

    /** @throws InvalidInput */
    public static function of(Experiment $experiment, CarbonImmutable $now): ?Readout
    {
        $count = DB::table('counts')->where('kind', 'experiment')->where('subject_id', $experiment->id)->where('state', 'current')->orderByDesc('id')->value('id');
        if ($count === null) {
            return null;
        }
        $subject = new Subject($experiment->declared());
        $goals = DB::table('counts')->where('kind', 'goal')->whereIn('subject_id', $experiment->goals->modelKeys())->where('state', 'current')->pluck('subject_id', 'id');
        $keys = $experiment->goals->pluck('key', 'id');
        $names = [];
        foreach ($goals as $id => $goal) {
            $names[UnitBook::item((int) $id)] = (string) $keys[$goal];
        }
        foreach ($subject->items as $item) {
            $names += $item->visit === null ? [] : [$item->key => $item->key];
        }
        $look = Look::at($subject->experiment, $now, new \DateTimeZone($experiment->site->time_zone), planned: self::plannedEnd($experiment), isOpen: true);

        return Readout::of($subject, ReadoutSums::read((int) $count, array_values(array_filter($subject->items, static fn (Item $item): bool => isset($names[$item->key]) || in_array($item->key, $names, true))), $names), $look, Gate::of([]));
    }

    /** The end that was planned before anybody saw a figure: what was declared when it began, whatever was said since. */
    private static function plannedEnd(Experiment $experiment): ?CarbonImmutable
    {
        $begun = $experiment->revisions->firstWhere('stage', 'running')->declared ?? [];
        $days = $begun['planned_days'] ?? $begun['plan']['days'] ?? null;

        return $experiment->started_at === null || $days === null ? null : CarbonImmutable::instance($experiment->started_at)->addDays((int) $days);
    }
}
