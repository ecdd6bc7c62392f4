<?php

declare(strict_types=1);

namespace Pellix\Core\Audit\Sums;

/** Cohorts that are kept side by side, each in a property of its own: made, joined and pruned together. */
abstract class CohortSums
{
    /** @return list<string> the properties that hold one */
    abstract protected static function names(): array;

    public function __construct()
    {
        foreach (static::names() as $name) {
            $this->{$name} = new Cohorts();
        }
    }

    /** @param int $sign see `Counts` */
    protected function join(self $other, int $sign): void
    {
        foreach (static::names() as $name) {
            $this->cohorts($name)->plus($other->cohorts($name), $sign);
        }
    }

    public function prune(): void
    {
        foreach (static::names() as $name) {
            $this->cohorts($name)->prune();
        }
    }

    /** A part of what was counted: see `Cohorts::part()`. What is no cohort stays whole. */
    public function part(?int $since, ?int $until, ?string $key): static
    {
        $part = clone $this;
        foreach (static::names() as $name) {
            $part->{$name} = $this->cohorts($name)->part($since, $until, $key);
        }

        return $part;
    }

    private function cohorts(string $name): Cohorts
    {
        /** @var Cohorts */
        return $this->{$name};
    }
}
