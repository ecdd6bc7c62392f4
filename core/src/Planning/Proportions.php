<?php

declare(strict_types=1);

namespace Pellix\Core\Planning;

use Pellix\Core\Statistics\Normal;
use Pellix\Core\Statistics\Root;

/**
 * Two proportions, by the normal approximation with the variance pooled under the null hypothesis and without a continuity
 * correction: Fleiss, Levin, Paik, "Statistical Methods for Rates and Proportions" (3rd edition 2003), section 4.2 and, for
 * unequal groups, 4.4. With equal groups it is what R's `power.prop.test` works out.
 */
final readonly class Proportions implements Measure
{
    private function __construct(private float $baseline)
    {
    }

    /** @throws InvalidAssumption */
    public static function of(float $baseline): self
    {
        return $baseline > 0 && $baseline < 1 ? new self($baseline)
            : throw new InvalidAssumption('A baseline rate lies between 0 and 1, both excluded: 0.05 for 5 %.', 'baseline');
    }

    public function kind(): string
    {
        return 'proportion';
    }

    public function baseline(): float
    {
        return $this->baseline;
    }

    /** The variant's rate. */
    public function other(float $difference): float
    {
        $other = $this->baseline + $difference;

        return $other > 0 && $other < 1 ? $other
            : throw new InvalidAssumption(sprintf('With a baseline of %s the variant would have a rate of %s, which is none; it lies between 0 and 1.', self::short($this->baseline), self::short($other)), 'lift');
    }

    public function visitors(float $difference, float $ratio, Demand $demand): float
    {
        [$null, $alternative] = $this->spreads($difference, $ratio);
        if ($difference === 0.0) {
            return INF;
        }

        return (($demand->critical() * $null + $demand->reserve() * $alternative) / $difference) ** 2 / $ratio;
    }

    public function power(float $difference, float $control, float $ratio, Demand $demand): float
    {
        [$null, $alternative] = $this->spreads($difference, $ratio);

        return Normal::upperTail(($demand->critical() * $null - abs($difference) * sqrt($ratio * $control)) / $alternative);
    }

    public function smallest(float $control, float $ratio, Demand $demand, int $way): ?float
    {
        $largest = ($way > 0 ? 1 - $this->baseline : $this->baseline) * (1 - 1e-9);
        $lacking = fn (float $difference): float => $this->power($way * $difference, $control, $ratio, $demand) - $demand->power;

        return $lacking($largest) < 0 ? null : Root::of($lacking, $largest * 1e-12, $largest);
    }

    public function method(): string
    {
        return 'two proportions, normal approximation with the variance pooled under the null, no continuity correction (Fleiss, Levin, Paik 2003)';
    }

    /** @return array{float, float} standard deviations under the null and under the alternative, in the formula's units */
    private function spreads(float $difference, float $ratio): array
    {
        $p1 = $this->baseline;
        $p2 = $this->other($difference);
        $mean = ($p1 + $ratio * $p2) / (1 + $ratio);

        return [sqrt(($ratio + 1) * $mean * (1 - $mean)), sqrt($ratio * $p1 * (1 - $p1) + $p2 * (1 - $p2))];
    }

    private static function short(float $rate): string
    {
        return rtrim(rtrim(number_format($rate, 6, '.', ''), '0'), '.');
    }
}
