<?php

declare(strict_types=1);

namespace Pellix\Core\Audit\Shapes;

/** Looks for the stretch of a series in which something is most different: coarsely over all pairs of ends, then at each end finely. */
final class Scan
{
    private const COARSE = 96;

    /**
     * @param int                       $length places, from 0
     * @param callable(int, int): float $score  how different the places from the first up to, but not, the second are
     *
     * @return array{int, int, float} first place, place after the last, and their score
     */
    public static function best(int $length, callable $score): array
    {
        $step = max(1, (int) ceil($length / self::COARSE));
        $ends = [];
        for ($at = 0; $at < $length; $at += $step) {
            $ends[] = $at;
        }
        $ends[] = $length;
        $best = [0, $length, $score(0, $length)];
        foreach ($ends as $i => $from) {
            foreach (array_slice($ends, $i + 1) as $to) {
                $is = $score($from, $to);
                if ($is > $best[2]) {
                    $best = [$from, $to, $is];
                }
            }
        }
        if ($step === 1) {
            return $best;
        }
        for ($round = 0; $round < 2; $round++) {
            for ($from = max(0, $best[0] - $step), $end = min($best[1] - 1, $best[0] + $step); $from <= $end; $from++) {
                $is = $score($from, $best[1]);
                $best = $is > $best[2] ? [$from, $best[1], $is] : $best;
            }
            for ($to = max($best[0] + 1, $best[1] - $step), $end = min($length, $best[1] + $step); $to <= $end; $to++) {
                $is = $score($best[0], $to);
                $best = $is > $best[2] ? [$best[0], $to, $is] : $best;
            }
        }

        return $best;
    }
}
