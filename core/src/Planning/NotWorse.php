<?php

declare(strict_types=1);

namespace Pellix\Core\Planning;

use Pellix\Core\Statistics\Normal;

/**
 * A guardrail: that a variant is worse than the control by less than a margin (non-inferiority). For proportions by the normal
 * approximation with the variance not pooled (Chow, Shao, Wang, "Sample Size Calculations in Clinical Research", 2nd edition
 * 2008, section 4.2.2); for means by the noncentral t distribution with the margin added to the difference (section 3.2.2).
 */
final readonly class NotWorse implements Measure
{
    private function __construct(private Proportions|Means $of, private float $margin)
    {
    }

    /**
     * @param float $margin what the variant may be worse by at most, above 0, in units of the measure (a rate for proportions)
     *
     * @throws InvalidAssumption
     */
    public static function of(Proportions|Means $measure, float $margin): self
    {
        if (! ($margin > 0 && ($measure instanceof Means || $margin < $measure->baseline()))) {
            throw new InvalidAssumption($measure instanceof Means ? 'A margin is a number above 0.' : 'A margin lies between 0 and the baseline, both excluded.', 'margin');
        }

        return new self($measure, $margin);
    }

    public function kind(): string
    {
        return $this->of->kind();
    }

    public function baseline(): float
    {
        return $this->of->baseline();
    }

    public function margin(): float
    {
        return $this->margin;
    }

    /** @param float $difference that is truly there; 0 for none */
    public function visitors(float $difference, float $ratio, Demand $demand): float
    {
        $room = $this->room($difference);
        if ($this->of instanceof Means) {
            return $this->of->visitors($room, $ratio, $demand);
        }

        return (($demand->critical() + $demand->reserve()) / $room) ** 2 * $this->variance($this->of, $difference, $ratio);
    }

    public function power(float $difference, float $control, float $ratio, Demand $demand): float
    {
        $room = $this->room($difference);
        if ($this->of instanceof Means) {
            return $this->of->power($room, $control, $ratio, $demand);
        }

        return Normal::upperTail($demand->critical() - $room / sqrt($this->variance($this->of, $difference, $ratio) / $control));
    }

    /** The smallest margin that can be shown where there is no difference. */
    public function smallest(float $control, float $ratio, Demand $demand, int $way): ?float
    {
        if ($this->of instanceof Means) {
            return $this->of->smallest($control, $ratio, $demand, $way);
        }
        $margin = ($demand->critical() + $demand->reserve()) * sqrt($this->variance($this->of, 0.0, $ratio) / $control);

        return $margin < $this->of->baseline() ? $margin : null;
    }

    public function method(): string
    {
        return $this->of instanceof Means
            ? 'not worse by more than the margin, noncentral t distribution (Chow, Shao, Wang 2008)'
            : 'not worse by more than the margin, normal approximation with the variance not pooled (Chow, Shao, Wang 2008)';
    }

    private function room(float $difference): float
    {
        return $this->margin + $difference > 0 ? $this->margin + $difference
            : throw new InvalidAssumption('A variant that is worse by the whole margin can never be shown not to be.', 'lift');
    }

    /** Variance of the difference for one visitor of the control. */
    private function variance(Proportions $of, float $difference, float $ratio): float
    {
        [$p1, $p2] = [$of->baseline(), $of->other($difference)];

        return $p1 * (1 - $p1) + $p2 * (1 - $p2) / $ratio;
    }
}
