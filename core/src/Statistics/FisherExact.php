<?php

declare(strict_types=1);

namespace Pellix\Core\Statistics;

/**
 * The power of Fisher's exact test of two proportions, by adding up the probability of every pair of counts that it calls
 * a difference.
 *
 * Given the sum of both counts, one of them is hypergeometric under the null; the two-sided p-value is the summed probability
 * of the counts that are no more likely than the observed one (as in R's `fisher.test`).
 */
final readonly class FisherExact
{
    /** So many conversions in both groups together are added up: with more the normal approximation is good. */
    public const MOST_TOTAL = 600;

    /** Counts that are less likely than that add nothing. */
    private const NOTHING = 1e-12;

    /**
     * @param int   $n1    units of the first group
     * @param float $p1    its true rate, between 0 and 1
     * @param float $alpha level of the whole test
     * @param int   $sides 1 for the direction of the true difference alone
     *
     * @return float|null null where there are too many counts to add up
     */
    public static function power(int $n1, int $n2, float $p1, float $p2, float $alpha, int $sides): ?float
    {
        $first = self::counts($n1, $p1);
        $second = self::counts($n2, $p2);
        if ($first === [] || $second === [] || max(array_keys($first)) + max(array_keys($second)) > self::MOST_TOTAL) {
            return null;
        }
        $power = 0.0;
        $totals = [min(array_keys($first)) + min(array_keys($second)), max(array_keys($first)) + max(array_keys($second))];
        for ($total = $totals[0]; $total <= $totals[1]; $total++) {
            foreach (self::called($n1, $n2, $total, $alpha, $sides, $p2 > $p1) as $x) {
                $power += ($first[$x] ?? 0.0) * ($second[$total - $x] ?? 0.0);
            }
        }

        return min(1.0, $power);
    }

    /**
     * The counts of the first group that are called a difference, where both groups together have `$total`.
     *
     * @return list<int>
     */
    private static function called(int $n1, int $n2, int $total, float $alpha, int $sides, bool $secondIsHigher): array
    {
        $p = [];
        for ($x = max(0, $total - $n2); $x <= min($total, $n1); $x++) {
            $p[$x] = exp(self::logChoose($n1, $x) + self::logChoose($n2, $total - $x) - self::logChoose($n1 + $n2, $total));
        }
        if ($sides === 1) {
            // A first count so small (or so large) or more so.
            $secondIsHigher ? ksort($p) : krsort($p);
        } else {
            asort($p);
        }
        $called = [];
        $sum = 0.0;
        $counts = array_keys($p);
        foreach ($counts as $i => $x) {
            $sum += $p[$x];
            $called[] = $x;
            $next = $counts[$i + 1] ?? null;
            $isTied = $sides === 2 && $next !== null && $p[$next] <= $p[$x] * (1 + ExactBinomial::TIE);
            if (! $isTied && $sum > $alpha) {
                return array_slice($called, 0, self::before($p, $called, $sides));
            }
        }

        return $called;
    }

    /**
     * How many of the counts come before the last ones, which are equally likely and together too many.
     *
     * @param array<int, float> $p
     * @param non-empty-list<int> $called
     */
    private static function before(array $p, array $called, int $sides): int
    {
        $at = count($called) - 1;
        while ($sides === 2 && $at > 0 && $p[$called[$at]] <= $p[$called[$at - 1]] * (1 + ExactBinomial::TIE)) {
            $at--;
        }

        return $at;
    }

    /** @return array<int, float> binomial probabilities that are not next to nothing */
    private static function counts(int $n, float $p): array
    {
        $mode = (int) (($n + 1) * $p);
        $found = [];
        foreach ([1, -1] as $way) {
            for ($x = $way === 1 ? $mode : $mode - 1; $x >= 0 && $x <= $n; $x += $way) {
                $probability = exp(PoissonTerm::log((float) $x, $n * $p) + PoissonTerm::log((float) ($n - $x), $n * (1 - $p)) - PoissonTerm::log((float) $n, (float) $n));
                if ($probability < self::NOTHING || count($found) > self::MOST_TOTAL) {
                    break;
                }
                $found[$x] = $probability;
            }
        }

        return $found;
    }

    /** ln of `n choose k`, from a binomial probability at the rate k/n, where it is largest. */
    private static function logChoose(int $n, int $k): float
    {
        if ($k === 0 || $k === $n) {
            return 0.0;
        }
        $p = $k / $n;

        return PoissonTerm::log((float) $k, (float) $k) + PoissonTerm::log((float) ($n - $k), (float) ($n - $k)) - PoissonTerm::log((float) $n, (float) $n)
            - $k * log($p) - ($n - $k) * log1p(-$p);
    }
}
