<?php

declare(strict_types=1);

namespace Pellix\Core\Readout;

use Pellix\Core\Statistics\Beta;
use Pellix\Core\Statistics\BetterRate;
use Pellix\Core\Statistics\Interval;
use Pellix\Core\Statistics\MantelHaenszel;
use Pellix\Core\Statistics\Normal;
use Pellix\Core\Statistics\RateDifference;
use Pellix\Core\Statistics\RateRatio;

/** Two rates: of one epoch by Newcombe's interval and the test of two proportions, of several joined by Mantel and Haenszel. */
final readonly class ComparedRates extends Comparing
{
    public function planned(): Estimate
    {
        return $this->isJoined() ? $this->joined() : $this->single();
    }

    private function single(): Estimate
    {
        [$variant, $control] = $this->strata[0];
        $counts = [$variant->reached, $variant->n, $control->reached, $control->n];
        $test = RateDifference::test(...$counts);
        $ratio = $control->reached === 0 ? null : RateRatio::interval(...[...$counts, $this->level])['interval'];

        return new Estimate($this->points(), sqrt($variant->variance() + $control->variance()), RateDifference::interval(...[...$counts, $this->level]), $test['log_p'], $test['test'], $this->relative(), $ratio === null ? null : new Interval($ratio->low - 1, $ratio->high - 1), $this->chance());
    }

    private function joined(): Estimate
    {
        $joined = $this->mantelHaenszel();
        $error = $joined->difference()['error'] ?? 0.0;
        $z = Normal::above((1 - $this->level) / 2);
        $ratio = $joined->ratio();

        return new Estimate(
            $this->points(),
            $error,
            $this->bounded(Interval::around($this->points(), $z * $error)),
            $joined->logP(),
            'mantel-haenszel',
            $this->relative(),
            $ratio === null ? null : new Interval($ratio['ratio'] * exp(-$z * $ratio['log_error']) - 1, $ratio['ratio'] * exp($z * $ratio['log_error']) - 1),
            $this->chance(),
        );
    }

    private function mantelHaenszel(): MantelHaenszel
    {
        return new MantelHaenszel(array_map(static fn (array $one): array => ['units' => [$one[0]->n, $one[1]->n], 'reached' => [$one[0]->reached, $one[1]->reached]], $this->strata));
    }

    public function points(): float
    {
        [$variant, $control] = $this->strata[0];

        // There are visitors of both in every stratum.
        return $this->isJoined() ? $this->mantelHaenszel()->difference()['difference'] ?? 0.0 : $variant->reached / $variant->n - $control->reached / $control->n;
    }

    protected function relative(): ?float
    {
        [$variant, $control] = $this->strata[0];
        if ($this->isJoined()) {
            $ratio = $this->mantelHaenszel()->ratio();

            return $ratio === null ? null : $ratio['ratio'] - 1;
        }

        return $control->reached === 0 ? null : $variant->value() / $control->value() - 1;
    }

    /** Of one epoch from uniform priors; of several by the normal approximation of the joined difference. */
    protected function chance(): float
    {
        [$variant, $control] = $this->strata[0];
        if (! $this->isJoined()) {
            return BetterRate::chance(Beta::after($variant->reached, $variant->n), Beta::after($control->reached, $control->n));
        }
        $joined = $this->mantelHaenszel()->difference();

        return $joined === null || $joined['error'] <= 0.0 ? 0.5 : Normal::upperTail(-$joined['difference'] / $joined['error']);
    }

    /** With one success and one failure more in each, so that few visitors do not look certain. */
    protected function steady(): array
    {
        $weights = $sum = $variance = $logVariance = 0.0;
        $reached = [0.0, 0.0];
        foreach ($this->strata as [$variant, $control]) {
            $weight = $variant->n * $control->n / ($variant->n + $control->n);
            $weights += $weight;
            $sum += $weight * ($variant->reached / $variant->n - $control->reached / $control->n);
            foreach ([$variant, $control] as $i => $one) {
                $p = ($one->reached + 1) / ($one->n + 2);
                $variance += $weight ** 2 * $p * (1 - $p) / $one->n;
                $reached[$i] += $weight * $one->reached / $one->n;
            }
        }
        // The ratio of two such sums, by the delta method: each weighs in by its own size.
        foreach ($this->strata as [$variant, $control]) {
            $weight = $variant->n * $control->n / ($variant->n + $control->n);
            foreach ([$variant, $control] as $i => $one) {
                $p = ($one->reached + 1) / ($one->n + 2);
                $logVariance += $reached[$i] > 0.0 ? $weight ** 2 * $p * (1 - $p) / $one->n / $reached[$i] ** 2 : 0.0;
            }
        }

        return [$sum / $weights, sqrt($variance) / $weights, min($reached) > 0.0 ? [log($reached[0] / $reached[1]), sqrt($logVariance)] : null];
    }

    protected function bounded(Interval $interval): Interval
    {
        return $interval->within(-1.0, 1.0);
    }
}
