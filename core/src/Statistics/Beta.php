<?php

declare(strict_types=1);

namespace Pellix\Core\Statistics;

/**
 * The Beta distribution: what is known of a rate after some successes and failures, where every rate was as likely as any other
 * before (T. Bayes 1763; a uniform prior is Beta(1, 1)).
 */
final readonly class Beta
{
    /** Where a density is under e^-60 of its peak it adds nothing. */
    private const NOTHING = 60.0;

    /** ln of x^a (1-x)^b / B(a, b), but for what depends on x. */
    private float $norm;

    /** Mean and standard deviation of the logit, about. */
    private float $middle;
    private float $width;

    /**
     * @param float $a above 0
     * @param float $b above 0
     *
     * @throws InvalidCounts
     */
    public function __construct(public float $a, public float $b)
    {
        if (! ($a > 0 && $b > 0 && is_finite($a) && is_finite($b))) {
            throw new InvalidCounts('A Beta distribution has two parameters above 0.');
        }
        $this->middle = log($a / $b);
        $this->width = sqrt(1 / $a + 1 / $b);
        // Γ(a+b) / Γ(a) Γ(b), by Poisson terms at the mode: their large parts cancel one by one.
        $n = $a + $b;
        $this->norm = PoissonTerm::log($a, $a) + PoissonTerm::log($b, $b) - PoissonTerm::log($n, $n) + log($a) + log($b) - log($n);
    }

    /** Of a rate after `$hits` successes among `$n` trials, from the uniform prior. */
    public static function after(int $hits, int $n): self
    {
        return new self($hits + 1.0, $n - $hits + 1.0);
    }

    /** Density of the logit of the rate, at a logit. */
    public function densityOfLogit(float $t): float
    {
        return exp($this->logDensityOfLogit($t));
    }

    private function logDensityOfLogit(float $t): float
    {
        // x = 1/(1+e^-t); ln x and ln(1-x) without cancellation, relative to the peak.
        [$logX, $logY] = self::logs($t);
        $n = $this->a + $this->b;

        return $this->norm + $this->a * ($logX - log($this->a / $n)) + $this->b * ($logY - log($this->b / $n));
    }

    /** @return array{float, float} ln x and ln(1 - x) of the rate with that logit */
    private static function logs(float $t): array
    {
        return $t > 0 ? [-log1p(exp(-$t)), -$t - log1p(exp(-$t))] : [$t - log1p(exp($t)), -log1p(exp($t))];
    }

    /**
     * P(X <= x) and P(X > x) of the rate with a logit: both, so that neither is lost where it is small.
     *
     * The regularized incomplete beta function by its continued fraction (NIST Digital Library of Mathematical Functions,
     * 8.17.22), evaluated by the modified Lentz method, on the side of the mean where it converges quickly (8.17.4).
     *
     * @return array{float, float}
     */
    public function tails(float $t): array
    {
        [$isLeft, $log] = $this->nearTail($t);
        $tail = exp($log);

        return $isLeft ? [$tail, 1 - $tail] : [1 - $tail, $tail];
    }

    /** @return array{float, float} natural logarithms of the same: they do not underflow */
    public function logTails(float $t): array
    {
        [$isLeft, $log] = $this->nearTail($t);
        $other = log1p(-exp($log));

        return $isLeft ? [$log, $other] : [$other, $log];
    }

    /** @return array{bool, float} whether it is the left tail, and its logarithm */
    private function nearTail(float $t): array
    {
        $x = 1 / (1 + exp(-$t));
        $isLeft = $x < ($this->a + 1) / ($this->a + $this->b + 2);
        $log = $isLeft ? log(self::fraction($this->a, $this->b, $x) / $this->a) : log(self::fraction($this->b, $this->a, 1 / (1 + exp($t))) / $this->b);

        return [$isLeft, min(0.0, $this->logDensityOfLogit($t) + $log)];
    }

    private static function fraction(float $a, float $b, float $x): float
    {
        $tiny = 1e-300;
        $c = 1.0;
        $d = 1 - ($a + $b) * $x / ($a + 1);
        $d = 1 / (abs($d) < $tiny ? $tiny : $d);
        $h = $d;
        for ($m = 1; $m < 10000; $m++) {
            foreach ([
                $m * ($b - $m) * $x / (($a + 2 * $m - 1) * ($a + 2 * $m)),
                -($a + $m) * ($a + $b + $m) * $x / (($a + 2 * $m) * ($a + 2 * $m + 1)),
            ] as $numerator) {
                $d = 1 + $numerator * $d;
                $d = 1 / (abs($d) < $tiny ? $tiny : $d);
                $c = 1 + $numerator / $c;
                $c = abs($c) < $tiny ? $tiny : $c;
                $step = $c * $d;
                $h *= $step;
            }
            if (abs($step - 1) < 1e-16) {
                break;
            }
        }

        return $h;
    }

    /**
     * Logits between which it is, but for next to nothing.
     *
     * @return array{float, float}
     */
    public function reach(): array
    {
        $ends = [];
        foreach ([-1, 1] as $way) {
            $step = $this->width;
            $t = $this->middle;
            while ($this->logDensityOfLogit($t) > $this->logDensityOfLogit($this->middle) - self::NOTHING) {
                $t += $way * $step;
            }
            $ends[] = $t;
        }

        return [$ends[0], $ends[1]];
    }

    /** How finely the logit must be gone through: half of its standard deviation, and never coarser than a flat prior needs. */
    public function step(): float
    {
        return min(0.5 * $this->width, 0.4);
    }
}
