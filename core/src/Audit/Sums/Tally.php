<?php

declare(strict_types=1);

namespace Pellix\Core\Audit\Sums;

use Pellix\Core\Audit\Reading\Unit;
use Pellix\Core\Audit\Setup;
use Pellix\Core\Formats\Spool;

/** All that is remembered of a log: it grows with hours, variants and what visitors have in common, never with their number. */
final class Tally
{
    /** What it is made of, for whoever reads one that was kept. */
    public const CLASSES = [self::class, SplitSum::class, AssignmentSum::class, GoalSum::class, OrderSum::class, VolumeSum::class, DelaySum::class, HygieneSum::class, ExclusionSum::class, Cohorts::class];

    public SplitSum $split;
    public AssignmentSum $assignment;
    /** @var list<GoalSum> one for each goal */
    public array $goals;
    public OrderSum $orders;
    public VolumeSum $volume;
    public DelaySum $delays;
    public HygieneSum $hygiene;
    public ExclusionSum $exclusions;

    public function __construct(Setup $setup)
    {
        $this->split = new SplitSum();
        $this->assignment = new AssignmentSum();
        $this->goals = array_map(static fn (int $place): GoalSum => new GoalSum($place), array_keys($setup->goals));
        $this->orders = new OrderSum();
        $this->volume = new VolumeSum();
        $this->delays = new DelaySum();
        $this->hygiene = new HygieneSum();
        $this->exclusions = new ExclusionSum();
    }

    public function add(Unit $unit, Setup $setup, Spool $users, Spool $numbers): void
    {
        if ($unit->rows === []) {
            return;
        }
        $this->split->add($unit, $setup);
        $this->assignment->add($unit, $setup, $users);
        foreach ($this->goals as $goal) {
            $goal->add($unit, $setup);
        }
        $this->orders->add($unit, $setup, $numbers);
        $this->volume->add($unit, $setup);
        $this->delays->add($unit, $setup);
        $this->hygiene->add($unit, $setup);
    }

    /** @param int $sign see `Counts` */
    public function plus(self $other, int $sign = Counts::PLUS): void
    {
        $this->split->plus($other->split, $sign);
        $this->assignment->plus($other->assignment, $sign);
        foreach ($this->goals as $place => $goal) {
            $goal->plus($other->goals[$place], $sign);
        }
        $this->orders->plus($other->orders, $sign);
        $this->volume->plus($other->volume, $sign);
        $this->delays->plus($other->delays, $sign);
        $this->hygiene->plus($other->hygiene, $sign);
        $this->exclusions->plus($other->exclusions, $sign);
    }

    /** Lets go of the rarest of what visitors have in common; to be called between the parts of a log. */
    public function prune(): void
    {
        foreach ([$this->split, $this->assignment, ...$this->goals, $this->orders, $this->volume, $this->delays, $this->hygiene] as $sum) {
            $sum->prune();
        }
    }
}
