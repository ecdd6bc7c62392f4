<?php

declare(strict_types=1);

namespace Pellix\Core\Audit\Shapes;

use Pellix\Core\Statistics\ChiSquare;
use Pellix\Core\Statistics\LikelihoodRatio;

/**
 * When a rate is another than before and after: the stretch of hours for which the binomial likelihood ratio of two rates
 * against one is largest.
 */
final readonly class RateBreak
{
    /**
     * @param int|null $since  milliseconds; null where it was so from the start
     * @param int|null $until  null where it goes on
     * @param float    $logP   ln p, times the number of stretches that were looked at
     * @param float    $inside rate there
     * @param float    $outside rate elsewhere; NAN where there is no elsewhere
     */
    private function __construct(public ?int $since, public ?int $until, public float $logP, public float $inside, public float $outside, public int $hits, public int $trials)
    {
    }

    /**
     * @param array<int, int> $hits   hour since 1970 => how many did
     * @param array<int, int> $trials hour => how many could
     * @param bool            $isLow  looks for a lower rate; else for a higher one
     * @param int             $step   hours that each place holds
     * @param float           $spread how much more these vary than binomial ones: variance over that
     */
    public static function of(array $hits, array $trials, bool $isLow, float $spread = 1.0, int $step = 1): ?self
    {
        ksort($trials);
        $hours = array_keys($trials);
        $h = [0];
        $n = [0];
        foreach ($hours as $i => $hour) {
            $h[] = $h[$i] + min($trials[$hour], $hits[$hour] ?? 0);
            $n[] = $n[$i] + $trials[$hour];
        }
        $length = count($hours);
        if ($length < 3 || $n[$length] < 20) {
            return null;
        }
        [$allHits, $all] = [$h[$length], $n[$length]];
        $score = static function (int $from, int $to) use ($h, $n, $allHits, $all, $isLow): float {
            $in = $n[$to] - $n[$from];
            $hit = $h[$to] - $h[$from];
            if ($in === 0 || $in === $all || ($isLow ? $hit * ($all - $in) >= ($allHits - $hit) * $in : $hit * ($all - $in) <= ($allHits - $hit) * $in)) {
                return 0.0;
            }

            return LikelihoodRatio::ofRates($hit, $in, $allHits, $all);
        };
        [$from, $to, $best] = Scan::best($length, $score);
        if ($best <= 0) {
            return null;
        }
        // A stretch that ends within the log has to be better than one that lasts.
        $lasting = [0, 0.0];
        for ($at = 1; $at < $length; $at++) {
            $is = $score($at, $length);
            $lasting = $is > $lasting[1] ? [$at, $is] : $lasting;
        }
        if ($to < $length && $lasting[1] > 0 && $best < $lasting[1] + 10 * $spread) {
            [$from, $to, $best] = [$lasting[0], $length, $lasting[1]];
        }
        $in = $n[$to] - $n[$from];
        $hit = $h[$to] - $h[$from];

        return new self(
            $from === 0 ? null : 3_600_000 * ($hours[$from] ?? 0),
            $to === $length ? null : 3_600_000 * (($hours[$to - 1] ?? 0) + $step),
            min(0.0, ChiSquare::logUpperTail($best / $spread, 1) + log($to === $length || $from === 0 ? $length : $length * $length / 2)),
            $hit / $in,
            ($allHits - $hit) / ($all - $in),
            $hit,
            $in,
        );
    }
}
