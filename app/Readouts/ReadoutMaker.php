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

    /** @var array<int, array{stamp: string, not_before: float}> experiment => what it was last made from */
    private array $made = [];

    public function make(Site $site): bool
    {
        $waiting = 0;
        foreach (Experiment::query()->where('site_id', $site->id)->whereNotNull('started_at')->whereNot('state', 'draft')->with('goals', 'revisions')->orderBy('id')->get() as $experiment) {
            $stamp = $this->stamp($experiment->setRelation('site', $site));
            $last = $this->made[$experiment->id] ?? ['stamp' => (string) (Readings::one($site->id, 'readout-of', (string) $experiment->id)['stamp'] ?? ''), 'not_before' => 0.0];
            if ($stamp === null || $stamp === $last['stamp'] || microtime(true) < $last['not_before']) {
                continue;
            }
            if (++$waiting > self::AT_ONCE) {
                return true;
            }
            $begin = microtime(true);
            try {
                $this->keep($experiment);
                Readings::keep($site->id, 'readout-of', (string) $experiment->id, ['stamp' => $stamp]);
            } catch (\Throwable $e) {
                // One that cannot be read out keeps no other from it.
                report($e);
            }
            $took = microtime(true) - $begin;
            $this->made[$experiment->id] = ['stamp' => $stamp, 'not_before' => microtime(true) + max(self::SOONEST, self::PATIENCE * $took)];
        }

        return false;
    }

    /** What a readout would be made from; null where nothing was counted yet. */
    private function stamp(Experiment $experiment): ?string
    {
        $read = DB::table('readings')->where('site_id', $experiment->site_id)->where('kind', 'experiment')->where('subject', (string) $experiment->id)->value('read_at');
        $end = self::plannedEnd($experiment);

        return $read === null ? null : implode(' ', [$read, $experiment->revision, $experiment->state, $experiment->ended_at?->format('U') ?? '-', $end !== null && $end <= CarbonImmutable::now('UTC') ? 'over' : 'open']);
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
