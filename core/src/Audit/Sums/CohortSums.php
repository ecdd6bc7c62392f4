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

    protected function join(self $other): void
    {
        foreach (static::names() as $name) {
            $this->cohorts($name)->plus($other->cohorts($name));
        }
    }

    public function prune(): void
    {
        foreach (static::names() as $name) {
            $this->cohorts($name)->prune();
        }
    }

    private function cohorts(string $name): Cohorts
    {
        /** @var Cohorts */
        return $this->{$name};
    }
}
