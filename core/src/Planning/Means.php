<?php

declare(strict_types=1);

namespace Pellix\Core\Planning;

use Pellix\Core\Statistics\Root;
use Pellix\Core\Statistics\StudentT;

/**
 * Two means with one standard deviation, by the noncentral t distribution: the power of the t test (J. Cohen, "Statistical
 * Power Analysis for the Behavioral Sciences", 2nd edition 1988, chapter 2). With equal groups it is what R's `power.t.test`
 * works out.
 */
final readonly class Means implements Measure
{
    private function __construct(private float $mean, private float $sd)
    {
    }

    /**
     * @param float $sd standard deviation of one visitor's value
     *
     * @throws InvalidAssumption
     */
    public static function of(float $mean, float $sd): self
    {
        if (! is_finite($mean) || abs($mean) > 1e12) {
            throw new InvalidAssumption('A mean is a number of at most 12 digits.', 'mean');
        }
        if (! ($sd > 0 && $sd <= 1e12)) {
            throw new InvalidAssumption('A standard deviation is a number above 0, of at most 12 digits.', 'sd');
        }

        return new self($mean, $sd);
    }

    public function kind(): string
    {
        return 'mean';
    }

    public function baseline(): float
    {
        return $this->mean;
    }

    public function sd(): float
    {
        return $this->sd;
    }

    public function visitors(float $difference, float $ratio, Demand $demand): float
    {
        if ($difference === 0.0) {
            return INF;
        }
        // By the normal distribution, which is a little less.
        $about = (($demand->critical() + $demand->reserve()) * $this->sd / $difference) ** 2 * (1 + 1 / $ratio);
        if ($about > 1e9) {
            // There t and normal distribution agree to nine digits.
            return $about;
        }
        $least = self::least($ratio);

        return Root::of(fn (float $n): float => $this->power($difference, $n, $ratio, $demand) - $demand->power, max($least, $about), max(2 * $least, 1.05 * $about + 2));
    }

    public function power(float $difference, float $control, float $ratio, Demand $demand): float
    {
        $control = max($control, self::least($ratio));
        $df = $control * (1 + $ratio) - 2;
        $shift = abs($difference) / $this->error($control, $ratio);

        return $shift > 1e6 ? 1.0 : StudentT::upperTail(StudentT::above($demand->tail(), $df), $df, $shift);
    }

    public function smallest(float $control, float $ratio, Demand $demand, int $way): float
    {
        $control = max($control, self::least($ratio));
        $df = $control * (1 + $ratio) - 2;
        $critical = StudentT::above($demand->tail(), $df);
        // The noncentrality is a little more than what the normal distribution would take.
        $shift = Root::of(static fn (float $shift): float => StudentT::upperTail($critical, $df, $shift) - $demand->power, 0.9 * ($demand->critical() + $demand->reserve()), 1.1 * ($critical + $demand->reserve()) + 0.1);

        return $shift * $this->error($control, $ratio);
    }

    public function method(): string
    {
        return 'two means with one standard deviation, noncentral t distribution (Cohen 1988)';
    }

    /** Standard error of the difference. */
    private function error(float $control, float $ratio): float
    {
        return $this->sd * sqrt((1 + 1 / $ratio) / $control);
    }

    /** Visitors of the control that leave a degree of freedom. */
    private static function least(float $ratio): float
    {
        return 3 / (1 + $ratio);
    }
}
