<?php

declare(strict_types=1);

namespace Pellix\Core\Readout;

use Pellix\Core\Statistics\Interval;

/** Values and differences of an item in words. A difference of rates is told in points, never in percent. */
final class Amounts
{
    /** `12.12 %`, `15.00 EUR`, `3.2` */
    public static function value(Item $item, ?float $value): string
    {
        return match (true) {
            $value === null => '–',
            $item->measure === Measure::Rate || self::isShare($item) => self::decimals(100 * $value, 2).' %',
            default => self::decimals($value, 2).self::unit($item),
        };
    }

    /** `4.43 points`, `1.20 EUR`: without its sign. */
    public static function size(Item $item, float $difference): string
    {
        return self::bare($item, $difference).self::noun($item);
    }

    /** `+4.43 points` */
    public static function signed(Item $item, float $difference): string
    {
        return self::sign($difference).self::size($item, $difference);
    }

    /** `1.9 to 6.8 points`: from the smaller to the larger, both without a sign. */
    public static function range(Item $item, float $one, float $other): string
    {
        [$low, $high] = [min(abs($one), abs($other)), max(abs($one), abs($other))];

        return self::bare($item, $low).' to '.self::bare($item, $high).self::noun($item);
    }

    /** `−0.4 to +6.8 points` */
    public static function interval(Item $item, Interval $interval): string
    {
        $end = static fn (float $end): string => is_finite($end) ? self::sign($end).self::bare($item, $end) : ($end < 0 ? '−∞' : '+∞');

        return $end($interval->low).' to '.$end($interval->high).self::noun($item);
    }

    /** `+57.6 %`: of a relative difference. */
    public static function relative(float $part): string
    {
        return self::sign($part).self::decimals(abs(100 * $part), 1).' %';
    }

    private static function bare(Item $item, float $difference): string
    {
        return self::decimals(abs($difference) * (self::isInPoints($item) ? 100 : 1), 2);
    }

    private static function noun(Item $item): string
    {
        return self::isInPoints($item) ? ' points' : self::unit($item);
    }

    private static function isInPoints(Item $item): bool
    {
        return $item->measure === Measure::Rate || self::isShare($item);
    }

    /** Sessions with a hit per session are a part of a whole as well. */
    private static function isShare(Item $item): bool
    {
        return $item->measure === Measure::Ratio && $item->goal !== null;
    }

    private static function unit(Item $item): string
    {
        return match (true) {
            $item->currency !== null => " {$item->currency}",
            $item->visit === Visit::Engaged, $item->visit === Visit::Length => ' s',
            $item->visit === Visit::Pages => ' pages',
            default => '',
        };
    }

    private static function sign(float $number): string
    {
        return $number < 0 ? '−' : '+';
    }

    /** With so many decimals, and more where they would all be 0. */
    private static function decimals(float $number, int $places): string
    {
        $size = abs($number);
        if ($size > 0 && $size < 10 ** -$places) {
            $places = min(9, (int) ceil(-log10($size)) + 1);
        }

        return number_format($number, $places, '.', ' ');
    }
}
