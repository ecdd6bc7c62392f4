<?php

declare(strict_types=1);

namespace Pellix\Core\Readout;

use Pellix\Core\Statistics\Anytime;
use Pellix\Core\Statistics\Earlier;
use Pellix\Core\Statistics\Interval;
use Pellix\Core\Statistics\InverseVariance;
use Pellix\Core\Statistics\Normal;

/** The comparison of a variant and the control with what visitors did before their first exposure taken off (see `Earlier`). */
final class Reduced
{
    /**
     * By how much, from all variants and epochs together.
     *
     * @param list<array<int, Sample>> $samples
     */
    public static function theta(array $samples): ?Earlier
    {
        $yy = $xx = $xy = 0.0;
        foreach ($samples as $epochs) {
            foreach ($epochs as $one) {
                if ($one->n > 1 && $one->measure !== Measure::Ratio) {
                    $yy += ($one->n - 1) * $one->spread();
                    $xx += ($one->n - 1) * $one->earlierSpread();
                    $xy += ($one->n - 1) * $one->covariance();
                }
            }
        }

        return Earlier::of($yy, $xx, $xy);
    }

    /**
     * @param array<int, Sample> $variant epoch => sample
     * @param array<int, Sample> $control
     * @param int|null           $end     units of both at the planned end
     */
    public static function estimate(Earlier $earlier, array $variant, array $control, Look $look, ?int $end): ?Estimate
    {
        $strata = [];
        $units = 0;
        foreach ($variant as $epoch => $one) {
            $other = $control[$epoch] ?? null;
            if ($one->n > 1 && $other !== null && $other->n > 1) {
                $strata[] = [
                    $earlier->mean($one->y / $one->n, $one->e / $one->n) - $earlier->mean($other->y / $other->n, $other->e / $other->n),
                    sqrt(self::variance($earlier, $one) + self::variance($earlier, $other)),
                ];
                $units += $one->n + $other->n;
            }
        }
        $joined = InverseVariance::of($strata);
        if ($joined === null) {
            return null;
        }
        $z = Normal::above((1 - $look->level) / 2);
        $sequence = Anytime::for(($end ?? $units) / $units / $joined->error ** 2, $look->level);

        return new Estimate(
            $joined->difference,
            $joined->error,
            $look->isAnytime ? $sequence->interval($joined->difference, $joined->error) : new Interval($joined->difference - $z * $joined->error, $joined->difference + $z * $joined->error),
            $look->isAnytime ? $sequence->logP($joined->difference, $joined->error) : Normal::logP($joined->difference / $joined->error),
            'reduced',
            null,
            null,
            Normal::upperTail(-$joined->difference / $joined->error),
        );
    }

    private static function variance(Earlier $earlier, Sample $one): float
    {
        return $earlier->variance($one->spread(), $one->earlierSpread(), $one->covariance()) / $one->n;
    }
}
