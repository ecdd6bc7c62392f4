<?php

declare(strict_types=1);

namespace Pellix\Core\Readout;

/** What can be said of an item. */
enum Verdict: string
{
    case Better = 'better';
    case Worse = 'worse';
    /** Of a guardrail: not worse by more than its margin. */
    case NotWorse = 'not-worse';
    case NoDifference = 'no-difference';
    case TooEarly = 'too-early';

    /** Of one variant. @param float $logP adjusted for the number of variants */
    public static function of(Item $item, Estimate $estimate, float $logP, Look $look): self
    {
        $sign = $item->isLower ? -1 : 1;
        $isDifferent = $logP < log($look->alpha());
        if ($item->margin !== null) {
            // Non-inferiority: the worst that is not ruled out against the margin (Chow, Shao, Wang, "Sample Size Calculations in Clinical Research", 2nd edition 2008, section 4.2.2).
            $worst = $sign > 0 ? $estimate->interval->low : -$estimate->interval->high;
            $best = $sign > 0 ? $estimate->interval->high : -$estimate->interval->low;

            return match (true) {
                $worst > -$item->margin => self::NotWorse,
                $best < -$item->margin, $isDifferent && $sign * $estimate->points < 0 => self::Worse,
                default => $look->isOver ? self::NoDifference : self::TooEarly,
            };
        }

        return match (true) {
            $isDifferent && $estimate->points != 0.0 => $sign * $estimate->points > 0 ? self::Better : self::Worse,
            default => $look->isOver ? self::NoDifference : self::TooEarly,
        };
    }
}
