<?php

declare(strict_types=1);

namespace Pellix\Core\Chain;

/** Numbers and counted nouns in sentences. */
final class Words
{
    /** `1 visitor`, `12 480 visitors` (with narrow no-break spaces). */
    public static function count(int $n, string $noun): string
    {
        return self::number($n).' '.$noun.($n === 1 ? '' : 's');
    }

    public static function number(int $n): string
    {
        return number_format($n, 0, '.', "\u{202f}");
    }

    /** A part of a whole in percent, with one decimal. */
    public static function percent(float $part, float $whole): string
    {
        return $whole == 0 ? '–' : number_format(100 * $part / $whole, 1, '.', '')."\u{202f}%";
    }

    /** `0.034`, `1.8e-6`, `under 1e-300` */
    public static function p(float $logP): string
    {
        if ($logP < -690) {
            return 'under 1e-300';
        }
        $p = exp($logP);

        return $p >= 0.001 ? number_format($p, 3, '.', '') : sprintf('%.1e', $p);
    }
}
