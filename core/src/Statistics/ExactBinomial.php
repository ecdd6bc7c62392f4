<?php

declare(strict_types=1);

namespace Pellix\Core\Statistics;

/**
 * The two-sided exact binomial test: the summed probability of every outcome no more likely than the one observed.
 *
 * Outcomes within a relative 1e-7 of the observed probability count as equally likely, as in R's `binom.test`, so that
 * rounding decides nothing. The distribution is unimodal, so those outcomes are its two tails; each is summed from its
 * inner end outward until a term no longer matters, which makes the time grow with the square root of `n`.
 */
final readonly class ExactBinomial
{
    /** Relative tolerance for "as likely as", in logarithms (R: `relErr <- 1 + 1e-07`). */
    public const TIE = 1e-7;

    private function __construct(private int $n, private float $p)
    {
    }

    /**
     * ln of the two-sided p-value of `$x` successes in `$n` trials with success probability `$p` (0 < p < 1).
     */
    public static function logP(int $x, int $n, float $p): float
    {
        $test = new self($n, $p);
        $observed = $test->logProbability($x);
        $limit = $observed + log1p(self::TIE);
        $mode = min($n, (int) (($n + 1) * $p));
        if ($test->logProbability($mode) <= $limit) {
            return 0.0;
        }
        $sum = $test->tail($test->edge($mode, 0, $limit), -1, $observed)
            + $test->tail($test->edge($mode, $n, $limit), 1, $observed);

        return min(0.0, $observed + log($sum));
    }

    private function logProbability(int $k): float
    {
        return PoissonTerm::log((float) $k, $this->n * $this->p)
            + PoissonTerm::log((float) ($this->n - $k), $this->n * (1 - $this->p))
            - PoissonTerm::log((float) $this->n, (float) $this->n);
    }

    /** The outcome nearest to the mode, on the way to `$end`, that is at most as likely as the limit; null when none is. */
    private function edge(int $mode, int $end, float $limit): ?int
    {
        if ($this->logProbability($end) > $limit) {
            return null;
        }
        $above = $mode;
        $below = $end;
        while (abs($below - $above) > 1) {
            $middle = intdiv($above + $below, 2);
            if ($this->logProbability($middle) > $limit) {
                $above = $middle;
            } else {
                $below = $middle;
            }
        }

        return $below;
    }

    /** The sum of the tail that starts at `$k`, as a multiple of the observed probability. */
    private function tail(?int $k, int $step, float $observed): float
    {
        if ($k === null) {
            return 0.0;
        }
        $odds = $this->p / (1 - $this->p);
        $term = exp($this->logProbability($k) - $observed);
        $sum = 0.0;
        while ($term > $sum * 1e-18) {
            $sum += $term;
            $term *= $step > 0
                ? ($this->n - $k) / ($k + 1) * $odds
                : $k / ($this->n - $k + 1) / $odds;
            $k += $step;
        }

        return $sum;
    }
}
