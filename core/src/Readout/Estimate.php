<?php

declare(strict_types=1);

namespace Pellix\Core\Readout;

use Pellix\Core\Statistics\Interval;

/** By how much a variant differs from the control in one item, and how sure that is. */
final readonly class Estimate
{
    /**
     * @param float         $points   difference in units of the measure: of a rate 0.0443 for 4.43 points
     * @param float         $error    its standard error
     * @param Interval      $interval of the difference
     * @param float         $logP     natural logarithm of the two-sided p-value
     * @param string        $test     that gave the p-value
     * @param float|null    $relative the same as a part of the control's value; null where the control has nothing
     * @param Interval|null $relatives its interval; null where there is none
     * @param float         $chance   that the variant's value is higher than the control's
     */
    public function __construct(
        public float $points,
        public float $error,
        public Interval $interval,
        public float $logP,
        public string $test,
        public ?float $relative,
        public ?Interval $relatives,
        public float $chance,
    ) {
    }
}
