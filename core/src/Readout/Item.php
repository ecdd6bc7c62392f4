<?php

declare(strict_types=1);

namespace Pellix\Core\Readout;

use Pellix\Core\Goals\Goal;

/** One thing that variants are compared by: a goal, or something that is measured of every visit. */
final readonly class Item
{
    /**
     * @param string      $role       one of Goal::ROLES; 'visit' for what nobody declared
     * @param Goal|null   $goal       null for what is measured of visits
     * @param bool        $isLower    whether less is better
     * @param float|null  $margin     of a guardrail: by how much it may get worse, in units of the measure
     * @param float|null  $worthwhile of the primary one: the smallest difference worth having, in units of the measure
     * @param float|null  $cap        a visitor's value above that counts as that
     * @param string|null $currency   of a goal whose value is money
     */
    private function __construct(
        public string $key,
        public string $name,
        public string $role,
        public Measure $measure,
        public ?Goal $goal,
        public ?Visit $visit,
        public bool $isLower = false,
        public ?float $margin = null,
        public ?float $worthwhile = null,
        public ?float $cap = null,
        public ?string $currency = null,
    ) {
    }

    /** @param bool $byRate whether the plan is for the rate of a goal that has a value */
    public static function ofGoal(Goal $goal, bool $byRate, bool $isLower, ?float $margin, ?float $worthwhile, ?float $cap): self
    {
        $hasValue = $goal->valueProp !== null || ($goal->fixed !== null && $goal->count !== 'visitor');

        return new self($goal->key, $goal->name, $goal->role, match (true) {
            $hasValue && ! $byRate => Measure::Mean,
            ! $hasValue && $goal->count === 'session' => Measure::Ratio,
            default => Measure::Rate,
        }, $goal, null, $isLower, $margin, $worthwhile, $cap, $goal->currency);
    }

    public static function ofVisit(Visit $visit, string $role, ?float $margin, ?float $worthwhile): self
    {
        return new self($visit->value, $visit->words(), $role, $visit->measure(), null, $visit, $visit->isLowerBetter(), $margin, $worthwhile);
    }

    /** Of a table of counts. */
    public static function ofTable(Measure $measure): self
    {
        return new self($measure === Measure::Rate ? 'conversion' : 'mean', $measure === Measure::Rate ? 'Conversions' : 'Mean per visitor', 'primary', $measure, null, null);
    }

    /** The same by another name, and another definition of the goal: while a goal is counted anew there are two of it. */
    public function called(string $key, Goal $goal): self
    {
        return new self($key, $this->name, $this->role, $this->measure, $goal, null, $this->isLower, $this->margin, $this->worthwhile, $this->cap, $this->currency);
    }

    /** The same goal by the part of the visitors that reached it. */
    public function byRate(): self
    {
        return new self($this->key, $this->name, $this->role, Measure::Rate, $this->goal, null, $this->isLower);
    }
}
