<?php

declare(strict_types=1);

namespace Pellix\Core\Statistics;

/**
 * Two rates over several strata (epochs with weights of their own), compared within each alone and joined then.
 *
 * - The *difference* and its variance: `StratifiedRates` (Mantel-Haenszel; Sato 1989).
 * - The *ratio*: the Mantel-Haenszel risk ratio with the variance of S. Greenland and J. M. Robins, "Estimation of a Common Effect
 *   Parameter from Sparse Follow-Up Data", Biometrics 41 (1985).
 * - The *test*: N. Mantel, W. Haenszel, "Statistical Aspects of the Analysis of Data from Retrospective Studies of Disease" (1959),
 *   without continuity correction, as R's `mantelhaen.test(correct = FALSE)`.
 */
final readonly class MantelHaenszel
{
    /** @param list<array{units: array{int, int}, reached: array{int, int}}> $strata of the variant and the control */
    public function __construct(private array $strata)
    {
    }

    /** @return array{difference: float, error: float}|null null where no stratum has visitors of both */
    public function difference(): ?array
    {
        return (new StratifiedRates($this->strata))->difference(0, 1);
    }

    /** @return array{ratio: float, log_error: float}|null null where either has nothing; `log_error` is of its logarithm */
    public function ratio(): ?array
    {
        $variant = $control = $p = 0.0;
        foreach ($this->strata as ['units' => [$n, $m], 'reached' => [$a, $c]]) {
            if ($n === 0 || $m === 0) {
                continue;
            }
            $all = $n + $m;
            $variant += $a * $m / $all;
            $control += $c * $n / $all;
            $p += ($n * $m * ($a + $c) - $a * $c * $all) / $all ** 2;
        }

        return $variant <= 0.0 || $control <= 0.0 ? null : ['ratio' => $variant / $control, 'log_error' => sqrt($p / ($variant * $control))];
    }

    /** ln of the two-sided p-value; 0.0 where there is nothing to compare. */
    public function logP(): float
    {
        $sum = $variance = 0.0;
        foreach ($this->strata as ['units' => [$n, $m], 'reached' => [$a, $c]]) {
            $all = $n + $m;
            if ($n === 0 || $m === 0 || $all < 2) {
                continue;
            }
            $reached = $a + $c;
            $sum += $a - $n * $reached / $all;
            $variance += $n * $m * $reached * ($all - $reached) / ($all ** 2 * ($all - 1));
        }

        return $variance <= 0.0 ? 0.0 : ChiSquare::logUpperTail($sum ** 2 / $variance, 1);
    }
}
