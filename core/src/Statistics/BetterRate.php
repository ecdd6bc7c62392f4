<?php

declare(strict_types=1);

namespace Pellix\Core\Statistics;

/**
 * The chance that one rate is higher than another, and what is lost on average by choosing one of several, from uniform priors.
 *
 * With F the distribution functions of the rates after what was seen (`Beta`), P(B > A) = ∫ f_B F_A, and the expected shortfall of
 * choosing i, E[max p - p_i], is ∫ F_i (1 - Π F_j) over the other j (since E[max] = ∫ 1 - Π F). Both are worked out by the
 * trapezoid rule on the logit, whose error falls exponentially for such functions (Trefethen, Weideman 2014): integrals, no
 * sampling.
 */
final class BetterRate
{
    /** P(B > A). */
    public static function chance(Beta $b, Beta $a): float
    {
        [$low, $high] = $b->reach();
        $step = min($a->step(), $b->step());
        $sum = $all = 0.0;
        for ($i = (int) floor($low / $step), $end = (int) ceil($high / $step); $i <= $end; $i++) {
            $density = $b->densityOfLogit($i * $step);
            if ($density > 0.0) {
                $all += $density;
                $sum += $density * $a->tails($i * $step)[0];
            }
        }

        return min(1.0, $sum / $all);
    }

    /**
     * What choosing each of them costs on average, against the best of all.
     *
     * @param non-empty-list<Beta> $rates
     *
     * @return non-empty-list<float> in units of the rate
     */
    public static function shortfalls(array $rates): array
    {
        $reaches = array_map(static fn (Beta $one): array => $one->reach(), $rates);
        $step = min(array_map(static fn (Beta $one): float => $one->step(), $rates));
        $sums = array_map(static fn (): float => 0.0, $rates);
        for ($i = (int) floor(min(array_column($reaches, 0)) / $step), $end = (int) ceil(max(array_column($reaches, 1)) / $step); $i <= $end; $i++) {
            $t = $i * $step;
            $tails = array_map(static fn (Beta $one): array => $one->tails($t), $rates);
            // dx = x (1 - x) dt
            $weight = $step / ((1 + exp(-$t)) * (1 + exp($t)));
            foreach ($tails as $own => [$below]) {
                // 1 - Π F, by logarithms, so that nothing is lost where all are near 1.
                $log = 0.0;
                foreach ($tails as $other => [$left, $right]) {
                    $log += $other === $own ? 0.0 : ($left > 0.5 ? log1p(-$right) : ($left > 0.0 ? log($left) : -INF));
                }
                $sums[$own] += $weight * $below * -expm1($log);
            }
        }

        return array_values($sums);
    }
}
