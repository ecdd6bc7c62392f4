<?php

declare(strict_types=1);

namespace Pellix\Core\Audit\Rows;

use Pellix\Core\Audit\Reading\Unit;
use Pellix\Core\Audit\Setup;
use Pellix\Core\Audit\Sums\AssignmentSum;
use Pellix\Core\Audit\Sums\Cohorts;
use Pellix\Core\Audit\Sums\DelaySum;
use Pellix\Core\Audit\Sums\GoalSum;
use Pellix\Core\Audit\Sums\HygieneSum;
use Pellix\Core\Audit\Sums\OrderSum;
use Pellix\Core\Audit\Sums\SplitSum;
use Pellix\Core\Formats\Spool;

/** A number of an audit whose rows can be asked for. It is counted by what the audit itself counts with, so that both are the same. */
enum Behind: string
{
    case Exposed = 'exposed';
    case Assigned = 'assigned';
    case Missing = 'missing';
    case Moved = 'page-view-after';
    case Active = 'second-event-after';
    case Near = 'goal-page';
    case Pageless = 'pageless';
    case Wrong = 'wrong-variant';
    case Switched = 'switched';
    case Strange = 'unknown-variant';
    case OutsidePage = 'outside-page';
    case OutsideAudience = 'outside-audience';
    case OutsideRun = 'outside-run';
    case OutsideShare = 'outside-share';
    case Bots = 'bots';
    case Internal = 'internal';
    case Copies = 'copies';
    case Twice = 'twice';
    case OffPlan = 'off-plan';
    case Personal = 'personal';
    case Disorder = 'disorder';
    case Referred = 'referred';
    case Events = 'events';
    case Late = 'late';
    case Clocks = 'clocks';
    case Orders = 'orders';
    case Hits = 'hits';
    case Reached = 'reached';
    case Again = 'hits-again';
    case Worthless = 'hits-without-value';
    case Early = 'hits-before';

    public function label(): string
    {
        return match ($this) {
            self::Exposed => 'exposed',
            self::Assigned => 'assigned',
            self::Missing => 'who should have been exposed and were not',
            self::Moved => 'with a page view after the exposure',
            self::Active => 'with a second event after the exposure',
            self::Near => 'who came to a page of the goal',
            self::Pageless => 'exposed without a page view',
            self::Wrong => 'with another variant than the assignment gives',
            self::Switched => 'in several variants',
            self::Strange => 'exposed to a variant that nobody declared',
            self::OutsidePage => 'exposed off the pages',
            self::OutsideAudience => 'exposed off the audience',
            self::OutsideRun => 'exposed outside the run',
            self::OutsideShare => 'exposed beyond the share',
            self::Bots => 'who are programs',
            self::Internal => 'who are one’s own people',
            self::Copies => 'with events whose id came before',
            self::Twice => 'with events that fired twice',
            self::OffPlan => 'with events that the plan does not know so',
            self::Personal => 'with personal data in events',
            self::Disorder => 'whose exposure lies after its effect',
            self::Referred => 'with sessions that a host of one’s own broke',
            self::Events => 'who are no programs, with their events',
            self::Late => 'with events that arrived late',
            self::Clocks => 'with a clock that is off',
            self::Orders => 'with orders',
            self::Hits => 'with hits of the goal',
            self::Reached => 'exposed, who reached the goal',
            self::Again => 'with hits that came again',
            self::Worthless => 'with hits without a value',
            self::Early => 'who reached the goal before their exposure',
        };
    }

    /** Whether it is one of a goal. */
    public function isOfGoal(): bool
    {
        return in_array($this, [self::Hits, self::Reached, self::Again, self::Worthless, self::Early], true);
    }

    /** What one unit adds to the number. @param int $goal place of the goal, where it is one of a goal */
    public function cohorts(Unit $unit, Setup $setup, int $goal): Cohorts
    {
        return match ($this) {
            self::Exposed, self::Assigned, self::Missing, self::Moved, self::Active, self::Near, self::Pageless => $this->ofSplit($unit, $setup),
            self::Wrong, self::Switched, self::Strange, self::OutsidePage, self::OutsideAudience, self::OutsideRun, self::OutsideShare => $this->ofAssignment($unit, $setup),
            self::Hits, self::Reached, self::Again, self::Worthless, self::Early => $this->ofGoal($unit, $setup, $goal),
            self::Late, self::Clocks => $this->ofDelays($unit, $setup),
            self::Orders => self::ofOrders($unit, $setup),
            self::Bots => self::programs($unit),
            self::Events => self::events($unit),
            default => $this->ofHygiene($unit, $setup),
        };
    }

    private function ofSplit(Unit $unit, Setup $setup): Cohorts
    {
        $sum = new SplitSum();
        $sum->add($unit, $setup);

        return match ($this) {
            self::Assigned => $sum->due,
            self::Missing => $sum->missing,
            self::Moved => $sum->moved,
            self::Active => $sum->active,
            self::Near => $sum->near,
            self::Pageless => $sum->pageless,
            default => $sum->exposed,
        };
    }

    private function ofAssignment(Unit $unit, Setup $setup): Cohorts
    {
        $sum = new AssignmentSum();
        $sum->add($unit, $setup, self::nowhere());

        return match ($this) {
            self::Wrong => $sum->wrong,
            self::Switched => $sum->switched,
            self::Strange => $sum->strange,
            default => $sum->outside[substr($this->value, strlen('outside-'))],
        };
    }

    private function ofGoal(Unit $unit, Setup $setup, int $goal): Cohorts
    {
        $sum = new GoalSum($goal);
        $sum->add($unit, $setup);

        return match ($this) {
            self::Reached => $sum->reached,
            self::Again => $sum->again,
            self::Worthless => $sum->worthless,
            self::Early => $sum->early,
            default => $sum->hits,
        };
    }

    private function ofDelays(Unit $unit, Setup $setup): Cohorts
    {
        $sum = new DelaySum();
        $sum->add($unit, $setup);

        return $this === self::Late ? $sum->late : $sum->off;
    }

    private static function ofOrders(Unit $unit, Setup $setup): Cohorts
    {
        $sum = new OrderSum();
        $sum->add($unit, $setup, self::nowhere());

        return $sum->orders;
    }

    private function ofHygiene(Unit $unit, Setup $setup): Cohorts
    {
        $sum = new HygieneSum();
        $sum->add($unit, $setup);

        return match ($this) {
            self::Internal => $sum->insiders,
            self::Twice => $sum->twice,
            self::OffPlan => $sum->offPlan,
            self::Personal => $sum->personal,
            self::Disorder => $sum->disorder,
            self::Referred => $sum->broken,
            default => $sum->copies,
        };
    }

    /** What is to be put aside is nobody's business here. */
    private static function nowhere(): Spool
    {
        /** @var Spool|null $nowhere */
        static $nowhere = null;

        return $nowhere ??= new Spool(1);
    }

    /** As the volume counts them: not what the runtime tells of other experiments. */
    private static function events(Unit $unit): Cohorts
    {
        $events = new Cohorts();
        $own = array_flip($unit->exposures);
        foreach ($unit->isCrawler || $unit->isInhuman ? [] : $unit->whats as $i => $what) {
            if (! Unit::isOwn($what->name) || isset($own[$i])) {
                $events->add([''], 0, intdiv($unit->times[$i], 3_600_000), $unit->variant);
            }
        }

        return $events;
    }

    private static function programs(Unit $unit): Cohorts
    {
        $programs = new Cohorts();
        if (($unit->isCrawler || $unit->isInhuman) && $unit->times !== []) {
            $programs->add($unit->keys, 0, intdiv($unit->times[0], 3_600_000), $unit->variant);
        }

        return $programs;
    }
}
