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
        $each = array_map(static fn (array $one): MeanDifference => self::difference(...$one), $this->strata);
        $log = $this->logRatio();
        $half = $log === null ? 0.0 : Normal::above((1 - $this->level) / 2) * $log[1];
        $relative = $this->relative($log);
        $relatives = $log === null ? null : new Interval(expm1($log[0] - $half), expm1($log[0] + $half));
        $isRatio = $this->strata[0][0]->measure === Measure::Ratio;
        if (! $this->isJoined()) {
            return new Estimate($each[0]->difference, $each[0]->error, $each[0]->interval($this->level), $each[0]->logP(), $isRatio ? 'delta' : 'welch', $relative, $relatives, $each[0]->chance());
        }
        [$difference, $error] = self::joined($each);
        if ($error == 0.0) {
            return new Estimate($difference, 0.0, new Interval($difference, $difference), 0.0, 'inverse-variance', $relative, $relatives, 0.5);
        }

        return new Estimate($difference, $error, Interval::around($difference, Normal::above((1 - $this->level) / 2) * $error), Normal::logP($difference / $error), 'inverse-variance', $relative, $relatives, Normal::upperTail(-$difference / $error));
    }

    protected function steady(): array
    {
        return [...self::joined(array_map(static fn (array $one): MeanDifference => self::difference(...$one), $this->strata)), $this->logRatio()];
    }

    private static function difference(Sample $variant, Sample $control): MeanDifference
    {
        return MeanDifference::of((float) $variant->value(), $variant->variance(), $variant->n, (float) $control->value(), $control->variance(), $control->n);
    }

    /**
     * @param list<MeanDifference> $each
     *
     * @return array{float, float}
     */
    private static function joined(array $each): array
    {
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

    /** @param array{float, float}|null $log */
    private function relative(?array $log): ?float
    {
        [$variant, $control] = $this->strata[0];
        $base = (float) $control->value();

        return match (true) {
            $log !== null && $this->isJoined() => expm1($log[0]),
            $this->isJoined() || $base == 0.0 => null,
            default => ((float) $variant->value() - $base) / abs($base),
        };
    }
}
