<?php

declare(strict_types=1);

namespace Pellix\Core\Statistics;

/**
 * Variance reduction: what visitors did before they met the experiment tells part of what they do after it, and is no different
 * between the variants. Taken off, it leaves less noise and the same difference (A. Deng, Y. Xu, R. Kohavi, T. Walker, "Improving
 * the Sensitivity of Online Controlled Experiments by Utilizing Pre-Experiment Data", WSDM 2013, section 3).
 */
final readonly class Earlier
{
    /**
     * @param float $theta       by how much what was before is taken off
     * @param float $correlation of before and after
     */
    private function __construct(public float $theta, public float $correlation)
    {
    }

    /**
     * @param float $yy variance of what came after, of all variants together
     * @param float $xx variance of what was before
     * @param float $xy their covariance
     *
     * @return self|null null where there was nothing before that differs between visitors
     */
    public static function of(float $yy, float $xx, float $xy): ?self
    {
        return $xx > 0.0 && $yy > 0.0 ? new self($xy / $xx, $xy / sqrt($xx * $yy)) : null;
    }

    /** Mean of a variant with what was before taken off: comparable with those of other variants, not by itself. */
    public function mean(float $y, float $x): float
    {
        return $y - $this->theta * $x;
    }

    /** Variance of a single visitor's value, with what was before taken off. */
    public function variance(float $yy, float $xx, float $xy): float
    {
        return max(0.0, $yy - 2 * $this->theta * $xy + $this->theta ** 2 * $xx);
    }
}
