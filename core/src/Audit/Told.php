<?php

declare(strict_types=1);

namespace Pellix\Core\Audit;

use Pellix\Core\Chain\Words;

/** Numbers in the messages of an audit. */
final class Told
{
    public static function count(int $n, string $noun): string
    {
        return str_replace("\u{202f}", ' ', Words::count($n, $noun));
    }

    public static function number(int $n): string
    {
        return str_replace("\u{202f}", ' ', Words::number($n));
    }

    /** `5 h`, `−4.5 h` */
    public static function hours(float $hours): string
    {
        return ($hours < 0 ? '−' : '').rtrim(rtrim(number_format(abs($hours), 1, '.', ''), '0'), '.').' h';
    }

    public static function percent(float $part): string
    {
        return ($part > 0 && $part < 0.001 ? rtrim(number_format(100 * $part, 3, '.', ''), '0') : number_format(100 * $part, 1, '.', '')).' %';
    }

    public static function p(float $logP): string
    {
        $p = Words::p($logP);

        return str_starts_with($p, 'under') ? "p {$p}" : "p = {$p}";
    }

    public static function duration(float $seconds): string
    {
        return match (true) {
            $seconds < 1 => 'under a second',
            $seconds < 120 => self::count((int) round($seconds), 'second'),
            $seconds < 7200 => self::count((int) round($seconds / 60), 'minute'),
            $seconds < 172_800 => self::count((int) round($seconds / 3600), 'hour'),
            default => self::count((int) round($seconds / 86_400), 'day'),
        };
    }
}
