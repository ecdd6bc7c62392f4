<?php

declare(strict_types=1);

namespace Pellix\Core\Planning;

/** What is compared between a variant and the control: how many visitors a difference takes, and what a number of them can find. */
interface Measure
{
    /** `proportion` or `mean` */
    public function kind(): string;

    /** The control's value. */
    public function baseline(): float;

    /**
     * Visitors of the control that a difference takes, not rounded.
     *
     * @param float $difference of the variant from the control, in units of the measure (a rate for proportions)
     * @param float $ratio      visitors of the variant for each of the control
     *
     * @return float INF where no number is enough
     *
     * @throws InvalidAssumption where there cannot be such a difference
     */
    public function visitors(float $difference, float $ratio, Demand $demand): float;

    /**
     * The chance that a difference is found.
     *
     * @param float $control visitors of the control, more than 1
     */
    public function power(float $difference, float $control, float $ratio, Demand $demand): float;

    /**
     * The smallest difference that a number of visitors finds with the power that is asked for.
     *
     * @param float $control visitors of the control, more than 1
     * @param int   $way     1 upwards, -1 downwards
     *
     * @return float|null above 0; null where not even the largest that there can be would be found
     */
    public function smallest(float $control, float $ratio, Demand $demand, int $way): ?float;

    /** The test that the figures are for, with its source. */
    public function method(): string;
}
