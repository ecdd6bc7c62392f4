<?php

declare(strict_types=1);

namespace Pellix\Core\Statistics;

/**
 * The difference of two means whose variances may differ: B. L. Welch, "The Generalization of 'Student's' Problem when Several
 * Different Population Variances are Involved", Biometrika 34 (1947), with the degrees of freedom of Welch and Satterthwaite; as
 * R's `t.test`.
 */
final readonly class MeanDifference
{
    /**
     * @param float $difference of the first mean from the second
     * @param float $error      its standard error
     * @param float $df         degrees of freedom
     */
    private function __construct(public float $difference, public float $error, public float $df)
    {
    }

    /**
     * @param float $variance1 of the first mean: of a single number, over n (with n - 1 under the sum of squares), above 0 or equal
     * @param float $variance2 of the second mean
     * @param int   $n1        at least 2
     * @param int   $n2        at least 2
     */
    public static function of(float $mean1, float $variance1, int $n1, float $mean2, float $variance2, int $n2): self
    {
        $variance = $variance1 + $variance2;

        return new self($mean1 - $mean2, sqrt($variance), $variance == 0.0 ? $n1 + $n2 - 2.0 : $variance ** 2 / ($variance1 ** 2 / ($n1 - 1) + $variance2 ** 2 / ($n2 - 1)));
    }

    public function interval(float $level): Interval
    {
        return Interval::around($this->difference, $this->error == 0.0 ? 0.0 : $this->error * StudentT::above((1 - $level) / 2, $this->df));
    }

    /** ln of the two-sided p-value. */
    public function logP(): float
    {
        return match (true) {
            $this->error > 0.0 => min(0.0, M_LN2 + StudentT::logUpperTail(abs($this->difference) / $this->error, $this->df)),
            $this->difference == 0.0 => 0.0,
            default => -INF,
        };
    }

    /** The chance that the first mean is higher, where before every mean was as likely as any other. */
    public function chance(): float
    {
        return $this->error == 0.0 ? ($this->difference <=> 0.0) / 2 + 0.5 : StudentT::upperTail(-$this->difference / $this->error, $this->df);
    }

    /** What is lost on average by choosing the first, from the same prior: E[max(0, second - first)] of the location-scale t distribution. */
    public function shortfall(): float
    {
        if ($this->error == 0.0) {
            return max(0.0, -$this->difference);
        }
        $t = $this->difference / $this->error;

        return max(0.0, $this->error * (($this->df + $t * $t) / ($this->df - 1) * StudentT::density($t, $this->df) - $t * StudentT::upperTail($t, $this->df)));
    }
}
