<?php

declare(strict_types=1);

namespace Pellix\Core\Readout;

use Pellix\Core\Statistics\Anytime;
use Pellix\Core\Statistics\Interval;

/** A variant and the control, side by side in each epoch that has both. */
abstract readonly class Comparing
{
    /** Without a plan a confidence sequence is narrowest at so many units of both together (common practice, no source). */
    private const USUAL_END = 5_000;

    /** @param non-empty-list<array{Sample, Sample}> $strata variant and control of each epoch */
    final protected function __construct(protected array $strata, protected float $level)
    {
    }

    /**
     * @param array<int, Sample> $variant epoch => sample
     * @param array<int, Sample> $control
     *
     * @return self|null null where no epoch has enough of both
     */
    public static function of(Measure $measure, array $variant, array $control, float $level): ?self
    {
        $strata = [];
        foreach ($variant as $epoch => $sample) {
            if ($sample->isUsable() && isset($control[$epoch]) && $control[$epoch]->isUsable()) {
                $strata[] = [$sample, $control[$epoch]];
            }
        }

        return $strata === [] ? null : ($measure === Measure::Rate ? new ComparedRates($strata, $level) : new ComparedAmounts($strata, $level));
    }

    /** Whether several epochs were joined. */
    public function isJoined(): bool
    {
        return count($this->strata) > 1;
    }

    /** As it was planned: to be looked at once, at the end. */
    abstract public function planned(): Estimate;

    /**
     * Difference and standard error as a confidence sequence takes them, and the same of the logarithm of the ratio.
     *
     * @return array{float, float, array{float, float}|null}
     */
    abstract protected function steady(): array;

    /** The difference, as it is estimated whenever one looks. */
    abstract public function points(): float;

    /** The same as a part of the control's value; null where the control has nothing. */
    abstract protected function relative(): ?float;

    /** The chance that the variant's value is higher. */
    abstract protected function chance(): float;

    /**
     * To be looked at as often as one likes.
     *
     * @param int|null $end units of both together at the planned end; null where none is planned
     */
    public function anytime(?int $end): Estimate
    {
        [$error, $interval, $logP, $relatives] = $this->sequence($end);

        return new Estimate($this->points(), $error, $interval, $logP, 'anytime', $this->relative(), $relatives, $this->chance());
    }

    /** The interval of that alone, which is worked out quickly. */
    public function anytimeInterval(?int $end): Interval
    {
        return $this->sequence($end)[1];
    }

    /** @return array{float, Interval, float, Interval|null} standard error, interval, ln p, interval of the relative difference */
    private function sequence(?int $end): array
    {
        [$difference, $error, $log] = $this->steady();
        if (! ($error > 0.0) || ! is_finite($error)) {
            return [$error, new Interval(-INF, INF), 0.0, null];
        }
        $share = ($end ?? self::USUAL_END) / max(1, $this->units());
        $sequence = Anytime::for($share / $error ** 2, $this->level);
        $relatives = null;
        if ($log !== null && $log[1] > 0.0) {
            $logs = Anytime::for($share / $log[1] ** 2, $this->level)->interval($log[0], $log[1]);
            $relatives = new Interval(expm1($logs->low), expm1($logs->high));
        }

        return [$error, $this->bounded($sequence->interval($difference, $error)), $sequence->logP($difference, $error), $relatives];
    }

    protected function bounded(Interval $interval): Interval
    {
        return $interval;
    }

    private function units(): int
    {
        return (int) array_sum(array_map(static fn (array $one): int => $one[0]->n + $one[1]->n, $this->strata));
    }

    /** Whether adding all epochs up would turn the sign of the difference. */
    public function wouldPoolingTurn(float $points): bool
    {
        [$variant, $control] = $this->strata[0];
        foreach (array_slice($this->strata, 1) as [$more, $other]) {
            [$variant, $control] = [$variant->plus($more), $control->plus($other)];
        }

        return $points * ((float) $variant->value() - (float) $control->value()) < 0;
    }
}
