<?php

namespace App\ReadModel;

use Illuminate\Support\Facades\DB;
use Pellix\Core\Counting\Figures;
use Pellix\Core\Counting\Participation;
use Pellix\Core\Counting\VisitorLog;
use Pellix\Core\Goals\Hit;

/**
 * Counts some visitors anew, from all of their events, and moves the figures by what became different: so it does not matter
 * in which order events arrived, nor how often a visitor is counted.
 */
final class VisitorCount
{
    private readonly FigureChanges $figures;

    /** @var array<string, true> users, with a mark before each, whose figures may be others now */
    private array $users = [];

    /** @var array<string, array<int, string>> unit, with a mark before it => count => JSON of what it came to */
    private array $totals = [];

    public function __construct(private readonly Definitions $of)
    {
        $this->figures = new FigureChanges();
    }

    /**
     * @param array<string, list<object>> $rows visitor, with a mark before it => all of its events
     *
     * @return list<int> the counts whose figures have changed
     */
    public function count(array $rows): array
    {
        $logs = [];
        foreach ($rows as $marked => $own) {
            $logs[$marked] = new VisitorLog(array_map(StoredEvents::event(...), $own), $this->of->site->session_minutes);
            $this->noteUsers(array_filter(array_column($own, 'user'), is_string(...)));
        }
        $hits = new VisitorHits($this->of, $logs);
        $this->noteUsers($hits->users());
        $this->goals($hits);
        $this->experiments($logs, $rows, $hits);
        $this->users($hits);
        $hits->write();

        return $this->figures->write();
    }

    private function goals(VisitorHits $hits): void
    {
        foreach ($hits->visitors() as $marked) {
            foreach ($hits->isAsBefore($marked) ? [] : $hits->ofVisitor($marked) as $i => $own) {
                foreach ($own as $count => $all) {
                    $this->figures->hits($count, $all, $i === 0 ? -1 : 1);
                }
            }
        }
    }

    /**
     * @param array<string, VisitorLog>   $logs
     * @param array<string, list<object>> $events of the same visitors
     */
    private function experiments(array $logs, array $events, VisitorHits $all): void
    {
        $byVisitor = array_filter($this->of->experiments, static fn (ExperimentCount $one): bool => ! $one->byUser());
        $kept = $this->participations(array_map(static fn (string $marked): string => substr($marked, 1), $all->visitors()), array_keys($byVisitor));
        $rows = $gone = [];
        foreach ($all->visitors() as $marked) {
            $hits = $all->ofVisitor($marked);
            $isAsBefore = $all->isAsBefore($marked);
            foreach ($this->of->experiments as $id => $count) {
                $isAsBefore || $this->everyone($count, $hits);
                if ($count->byUser()) {
                    continue;
                }
                $before = $kept[$marked][$id] ?? null;
                $log = $logs[$marked] ?? null;
                // A visitor who only lost or won an order did nothing new.
                $now = $log === null || $count->settled ? $before : $this->participate($count, $log);
                $visitor = substr($marked, 1);
                if ($isAsBefore && $log === null) {
                    continue;
                }
                if ($now?->isExposed() === true && ! isset($events[$marked])) {
                    $events[$marked] = StoredEvents::rows($this->of->site->id, [$visitor])[$marked];
                }
                $totals = [$this->totals[$marked][$id] ?? null, $now?->isExposed() === true ? $count->book?->totals("v{$visitor}", $events[$marked], $hits[1]) : null];
                if ($isAsBefore && self::sameUnit($before, $now) && $totals[0] === $totals[1]) {
                    continue;
                }
                $this->entered($count, $visitor, [$before, $now], $hits, $totals, $rows, $gone);
            }
        }
        $this->keep($rows, $gone);
    }

    private function participate(ExperimentCount $count, VisitorLog $log): ?Participation
    {
        $events = $log->events;
        if ($events === [] || ! $count->ran->meet($events[0]->time, $events[count($events) - 1]->time)) {
            return null;
        }
        $did = Participation::of($count->experiment, $count->ran, $log);
        if ($did !== null) {
            $this->noteLasts($count, $log, $did);
        }

        return $did;
    }

    private function noteLasts(ExperimentCount $count, VisitorLog $log, Participation $did): void
    {
        foreach ($did->views === 0 ? [] : Participation::views($count->experiment, $count->ran, $log) as $view) {
            $this->figures->moveOn($count->id, 'views', $view->time);
            $this->figures->viewed($count->id, $view->url);
        }
        foreach ($did->exposures === 0 ? [] : ['exposure' => 'exposures', 'change_applied' => 'applied', 'change_missed' => 'missed', 'change_reverted' => 'reverted', 'change_failed' => 'failed'] as $name => $figure) {
            foreach (Participation::about($count->experiment, $count->ran, $log, $name) as $event) {
                $name === 'exposure' && $this->figures->moveOn($count->id, 'exposures', $event->time);
                $this->figures->moveOn($count->id, "variant.{$event->text('variant')}.{$figure}", $event->time);
            }
        }
    }

    /**
     * @param array{array<int, list<Hit>>, array<int, list<Hit>>} $hits before and now, by the count of their goal
     */
    private function everyone(ExperimentCount $count, array $hits): void
    {
        foreach ($count->goals as $goal) {
            foreach ([-1, 1] as $i => $sign) {
                $own = $hits[$i][$goal->id] ?? [];
                if ($own !== []) {
                    $this->figures->add($count->id, Figures::everyone((string) $goal->id, $goal->goal, $own, $count->ran), $sign);
                }
            }
        }
    }

    /**
     * @param array{Participation|null, Participation|null}       $did  before and now
     * @param array{array<int, list<Hit>>, array<int, list<Hit>>} $hits before and now
     * @param array{string|null, string|null}                     $totals what it comes to in the readout, before and now
     * @param list<array<string, mixed>>                          $rows
     * @param list<array{int, string}>                            $gone
     */
    private function entered(ExperimentCount $count, string $unit, array $did, array $hits, array $totals, array &$rows, array &$gone): void
    {
        $this->figures->unit($count, ...$totals);
        foreach ([-1, 1] as $i => $sign) {
            $this->figures->add($count->id, Figures::entry($did[$i]), $sign);
            foreach ($did[$i]?->counts() === null ? [] : $count->goals as $goal) {
                $own = $hits[$i][$goal->id] ?? [];
                if ($own !== []) {
                    $this->figures->add($count->id, Figures::reached((string) $goal->id, $goal->goal, $own, $count->ran, $did[$i]), $sign);
                }
            }
        }
        if ($did[1] !== null) {
            if (self::sameUnit($did[0], $did[1])) {
                // Where it came first is known of what was counted just now alone: the rest of the row stays as it is.
                $totals[0] === $totals[1] || DB::table('participations')->where('site_id', $this->of->site->id)->where('unit', $unit)->where('count_id', $count->id)->update(['totals' => $totals[1]]);
            } else {
                $rows[] = ParticipationRow::of($this->of->site->id, $count->id, $unit, $did[1], $this->of->site->page_parameters, $totals[1]);
            }
        } elseif ($did[0] !== null) {
            $gone[] = [$count->id, $unit];
        }
    }

    /** Page and segments follow from the first exposure, and are not read back. */
    private static function sameUnit(?Participation $a, ?Participation $b): bool
    {
        return $a === null || $b === null ? $a === $b : $a->views === $b->views && $a->exposures === $b->exposures && $a->applied === $b->applied && $a->missed === $b->missed && $a->reverted === $b->reverted && $a->failed === $b->failed
            && $a->variant === $b->variant && $a->crossed === $b->crossed && $a->moved === $b->moved && $a->epoch === $b->epoch && $a->first == $b->first && $a->last == $b->last;
    }

    /** @param array<string> $users */
    private function noteUsers(array $users): void
    {
        foreach ($users as $user) {
            $this->users["#{$user}"] = true;
        }
    }

    /** Experiments by user: a user's events and hits may lie with several visitors. */
    private function users(VisitorHits $all): void
    {
        $byUser = array_filter($this->of->experiments, static fn (ExperimentCount $one): bool => $one->byUser());
        if ($byUser === [] || $this->users === []) {
            return;
        }
        $users = array_map(static fn (string $marked): string => substr($marked, 1), array_keys($this->users));
        $kept = $this->participations($users, array_keys($byUser));
        $rows = $gone = [];
        foreach ($users as $user) {
            $events = StoredEvents::ofUser($this->of->site->id, $user);
            $log = new VisitorLog(array_map(StoredEvents::event(...), $events), $this->of->site->session_minutes);
            $hits = $all->ofUser($user);
            foreach ($byUser as $id => $count) {
                $before = $kept["#{$user}"][$id] ?? null;
                $now = $count->settled ? $before : $this->participate($count, $log);
                $this->entered($count, $user, [$before, $now], $hits, [$this->totals["#{$user}"][$id] ?? null, $now?->isExposed() === true ? $count->book?->totals("u{$user}", $events, $hits[1]) : null], $rows, $gone);
            }
        }
        $this->keep($rows, $gone);
    }

    /**
     * @param list<string> $units
     * @param list<int>    $counts
     *
     * @return array<string, array<int, Participation>> unit, with a mark before it => count => as it is kept
     */
    private function participations(array $units, array $counts): array
    {
        $kept = [];
        foreach ($counts === [] ? [] : array_chunk($units, 500) as $part) {
            foreach (DB::table('participations')->where('site_id', $this->of->site->id)->whereIn('unit', $part)->whereIn('count_id', $counts)->get() as $row) {
                $kept["#{$row->unit}"][(int) $row->count_id] = ParticipationRow::participation((array) $row);
                if ($row->totals !== null) {
                    $this->totals["#{$row->unit}"][(int) $row->count_id] = $row->totals;
                }
            }
        }

        return $kept;
    }

    /**
     * @param list<array<string, mixed>> $rows
     * @param list<array{int, string}>   $gone
     */
    private function keep(array $rows, array $gone): void
    {
        usort($rows, static fn (array $a, array $b): int => strcmp($a['unit'], $b['unit']) ?: $a['count_id'] <=> $b['count_id']);
        Upserts::write('participations', $rows, array_fill_keys(['views', 'exposures', 'applied', 'missed', 'reverted', 'failed', 'variant', 'crossed', 'moved', 'epoch', 'first', 'last', 'page', 'device', 'browser', 'source', 'country', 'totals'], 'set'));
        foreach ($gone as [$count, $unit]) {
            DB::table('participations')->where('site_id', $this->of->site->id)->where('unit', $unit)->where('count_id', $count)->delete();
        }
    }
}
