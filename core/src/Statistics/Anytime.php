<?php

declare(strict_types=1);

namespace Pellix\Core\Statistics;

/**
 * A confidence sequence: an interval that may be looked at as often as one likes, since all of its looks together miss the truth
 * with no more than the error that is allowed.
 *
 * Source: the two-sided normal mixture of S. R. Howard, A. Ramdas, J. McAuliffe, J. Sekhon, "Time-uniform, Nonparametric,
 * Nonasymptotic Confidence Sequences", Annals of Statistics 49 (2021), equation 14: a sum with variance v stays within
 * ±√((v + ρ) ln((v + ρ) / (α² ρ))) at all times. For an estimate with an estimated standard error it is the asymptotic confidence
 * sequence of I. Waudby-Smith, D. Arbour, R. Sinha, E. H. Kennedy, A. Ramdas, "Time-uniform Central Limit Theory and Asymptotic
 * Confidence Sequences", Annals of Statistics 52 (2024), theorem 2.2. With information I = 1 / error² the sum is the estimate
 * times I, and v is I.
 */
final readonly class Anytime
{
    /** @param float $rho in units of information, above 0 */
    private function __construct(private float $alpha, private float $rho)
    {
    }

    /**
     * One that is narrowest where there is as much information as planned; before and after it is a little wider than it might
     * be (the choice of ρ in Waudby-Smith et al. 2024, section 2.3).
     *
     * @param float $information that is expected at the planned end: 1 / error²
     * @param float $level       of confidence, between 0 and 1
     *
     * @throws InvalidCounts
     */
    public static function for(float $information, float $level): self
    {
        if (! ($information > 0 && is_finite($information) && $level > 0 && $level < 1)) {
            throw new InvalidCounts('A confidence sequence is made for some information above 0 and a level between 0 and 1.');
        }
        $log = -2 * log(1 - $level);

        return new self(1 - $level, $information / ($log + log1p($log)));
    }

    /** @param float $error standard error of the estimate, above 0 */
    public function interval(float $estimate, float $error): Interval
    {
        $information = 1 / ($error * $error);
        $sum = $information + $this->rho;

        return Interval::around($estimate, sqrt($sum * (log($sum / $this->rho) - 2 * log($this->alpha))) / $information);
    }

    /** ln of a p-value that may be looked at at any time: the smallest error at which 0 is not in the interval. */
    public function logP(float $estimate, float $error): float
    {
        $information = 1 / ($error * $error);
        $sum = $information + $this->rho;

        return min(0.0, 0.5 * log($sum / $this->rho) - ($estimate * $information) ** 2 / (2 * $sum));
    }
}
