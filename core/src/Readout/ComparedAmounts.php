<?php

declare(strict_types=1);

namespace Pellix\Core\Readout;

use Pellix\Core\Statistics\Interval;
use Pellix\Core\Statistics\InverseVariance;
use Pellix\Core\Statistics\MeanDifference;
use Pellix\Core\Statistics\Normal;

/** Two means, or two ratios: of one epoch by Welch's interval and test, of several joined by the inverse of their variances. */
final readonly class ComparedAmounts extends Comparing
{
    public function planned(): Estimate
    {
        $log = $this->logRatio();
        $half = $log === null ? 0.0 : Normal::above((1 - $this->level) / 2) * $log[1];
        $relatives = $log === null ? null : new Interval(expm1($log[0] - $half), expm1($log[0] + $half));
        if (! $this->isJoined()) {
            $one = self::difference(...$this->strata[0]);

            return new Estimate($one->difference, $one->error, $one->interval($this->level), $one->logP(), $this->strata[0][0]->measure === Measure::Ratio ? 'delta' : 'welch', $this->relative(), $relatives, $this->chance());
        }
        [$difference, $error] = $this->joined();

        return new Estimate(
            $difference,
            $error,
            Interval::around($difference, Normal::above((1 - $this->level) / 2) * $error),
            $error > 0.0 ? Normal::logP($difference / $error) : 0.0,
            'inverse-variance',
            $this->relative(),
            $relatives,
            $this->chance(),
        );
    }

    public function points(): float
    {
        return $this->joined()[0];
    }

    protected function relative(): ?float
    {
        [$variant, $control] = $this->strata[0];
        $base = (float) $control->value();
        $log = $this->isJoined() ? $this->logRatio() : null;

        return match (true) {
            $log !== null => expm1($log[0]),
            $this->isJoined() || $base == 0.0 => null,
            default => ((float) $variant->value() - $base) / abs($base),
        };
    }

    /** From flat priors on the means; of several epochs by the normal approximation of the joined difference. */
    protected function chance(): float
    {
        if (! $this->isJoined()) {
            return self::difference(...$this->strata[0])->chance();
        }
        [$difference, $error] = $this->joined();

        return $error > 0.0 ? Normal::upperTail(-$difference / $error) : 0.5;
    }

    protected function steady(): array
    {
        $isThin = array_filter($this->strata, static fn (array $one): bool => ! $one[0]->isThin() && ! $one[1]->isThin()) === [];

        return $isThin ? [$this->points(), INF, null] : [...$this->joined(), $this->logRatio()];
    }

    private static function difference(Sample $variant, Sample $control): MeanDifference
    {
        return MeanDifference::of((float) $variant->value(), $variant->variance(), $variant->n, (float) $control->value(), $control->variance(), $control->n);
    }

    /** @return array{float, float} difference and its standard error: of a single epoch its own */
    private function joined(): array
    {
        $each = array_map(static fn (array $one): MeanDifference => self::difference(...$one), $this->strata);
        $joined = InverseVariance::of(array_map(static fn (MeanDifference $one): array => [$one->difference, $one->error], $each));

        return $joined === null ? [array_sum(array_map(static fn (MeanDifference $one): float => $one->difference, $each)) / count($each), 0.0] : [$joined->difference, $joined->error];
    }

    /**
     * Logarithm of the ratio of both, and its standard error by the delta method.
     *
     * @return array{float, float}|null null where a value is not above 0
     */
    private function logRatio(): ?array
    {
        $strata = [];
        foreach ($this->strata as [$variant, $control]) {
            [$a, $b] = [(float) $variant->value(), (float) $control->value()];
            if ($a <= 0.0 || $b <= 0.0) {
                return null;
            }
            $strata[] = [log($a / $b), sqrt($variant->variance() / $a ** 2 + $control->variance() / $b ** 2)];
        }
        $joined = InverseVariance::of($strata);

        return $joined === null ? null : [$joined->difference, $joined->error];
    }
}
