<?php

declare(strict_types=1);

namespace Pellix\Core\Statistics;

/**
 * Differences of several strata, joined: each counts by the inverse of its variance (W. G. Cochran, "The Combination of Estimates
 * from Different Experiments", Biometrics 10, 1954). Cochran's Q tells whether they differ more than chance lets them.
 */
final readonly class InverseVariance
{
    private function __construct(public float $difference, public float $error, public float $q, public int $df)
    {
    }

    /**
     * @param list<array{float, float}> $strata difference and standard error of each; those without an error above 0 say nothing
     *
     * @return self|null null where none says anything
     */
    public static function of(array $strata): ?self
    {
        $strata = array_values(array_filter($strata, static fn (array $one): bool => $one[1] > 0 && is_finite($one[1])));
        if ($strata === []) {
            return null;
        }
        $weights = array_map(static fn (array $one): float => 1 / $one[1] ** 2, $strata);
        $all = array_sum($weights);
        $joined = array_sum(array_map(static fn (array $one, float $weight): float => $weight * $one[0], $strata, $weights)) / $all;
        $q = array_sum(array_map(static fn (array $one, float $weight): float => $weight * ($one[0] - $joined) ** 2, $strata, $weights));

        return new self($joined, 1 / sqrt($all), $q, count($strata) - 1);
    }

    /** ln of the p-value of Q: whether the strata differ from each other. 0.0 of a single one. */
    public function logPOfSame(): float
    {
        return $this->df < 1 ? 0.0 : ChiSquare::logUpperTail($this->q, $this->df);
    }
}
