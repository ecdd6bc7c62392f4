<?php

declare(strict_types=1);

namespace Pellix\Core\Statistics;

/**
 * Exact tests of two counts given their sum (R. A. Fisher, "The Logic of Inductive Inference", 1935): of `$total` units, among
 * which `$marked` have something, `$drawn` are those of one group.
 */
final readonly class Hypergeometric
{
    private function __construct(private int $drawn, private int $marked, private int $total)
    {
    }

    /** ln P(X <= x): how implausible it is that the group has so few of the marked, were they spread evenly. */
    public static function logAtMost(int $x, int $drawn, int $marked, int $total): float
    {
        $test = new self($drawn, $marked, $total);
        $low = max(0, $drawn + $marked - $total);
        $sum = 0.0;
        $top = $test->log($x);
        for ($k = $x; $k >= $low; $k--) {
            $term = exp($test->log($k) - $top);
            $sum += $term;
            if ($term < $sum * 1e-16 && $k < $drawn * ($marked / max(1, $total))) {
                break;
            }
        }

        return $x < $low ? -INF : min(0.0, $top + log($sum));
    }

    /**
     * ln of the two-sided p-value of a table of two by two: the summed probability of the tables no more likely than this one,
     * as R's `fisher.test`.
     *
     * @param array{int, int} $first  of the first group: those who have it, and those who have not
     * @param array{int, int} $second
     */
    public static function logFisher(array $first, array $second): float
    {
        $drawn = $first[0] + $first[1];
        $marked = $first[0] + $second[0];
        $total = $drawn + $second[0] + $second[1];
        $test = new self($drawn, $marked, $total);
        $observed = $test->log($first[0]);
        $limit = $observed + log1p(ExactBinomial::TIE);
        $sum = 0.0;
        for ($k = max(0, $drawn + $marked - $total); $k <= min($drawn, $marked); $k++) {
            $log = $test->log($k);
            $sum += $log <= $limit ? exp($log - $observed) : 0.0;
        }

        return min(0.0, $observed + log($sum));
    }

    /** ln P(X = k), as a product of binomial probabilities at the common rate (Loader 2000). */
    private function log(int $k): float
    {
        if ($this->marked === 0 || $this->drawn === 0 || $this->marked === $this->total || $this->drawn === $this->total) {
            return 0.0;
        }
        $p = $this->drawn / $this->total;

        return self::binomial($k, $this->marked, $p) + self::binomial($this->drawn - $k, $this->total - $this->marked, $p) - self::binomial($this->drawn, $this->total, $p);
    }

    private static function binomial(int $k, int $n, float $p): float
    {
        return PoissonTerm::log((float) $k, $n * $p) + PoissonTerm::log((float) ($n - $k), $n * (1 - $p)) - PoissonTerm::log((float) $n, (float) $n);
    }
}
