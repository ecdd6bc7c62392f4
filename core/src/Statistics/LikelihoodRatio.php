<?php

declare(strict_types=1);

namespace Pellix\Core\Statistics;

/** Likelihood ratios G² = 2 Σ x ln(x / expected), about chi-square where nothing differs (S. S. Wilks 1938; NIST/SEMATECH e-Handbook, 1.3.5.15). */
final class LikelihoodRatio
{
    /** Expected counts under this are taken for it, so that one that should be impossible weighs much and not without end. */
    private const LEAST = 1e-9;

    /**
     * Counts against what is expected of them, with the same sum.
     *
     * @param array<int>   $observed
     * @param array<float> $expected in the same places
     */
    public static function ofCounts(array $observed, array $expected): float
    {
        $g = 0.0;
        foreach ($observed as $i => $count) {
            $g += $count > 0 ? 2 * $count * log($count / max($expected[$i], self::LEAST)) : 0.0;
        }

        return $g;
    }

    /** One count against its Poisson mean: the deviance. */
    public static function ofCount(int $count, float $mean): float
    {
        return 2 * (($count > 0 ? $count * log($count / max($mean, self::LEAST)) : 0.0) - ($count - $mean));
    }

    /**
     * A binomial rate of its own for a part of the trials, against one rate for all.
     *
     * @param int $hits      in the part
     * @param int $trials    of the part
     * @param int $allHits   the part's included
     * @param int $allTrials the same
     */
    public static function ofRates(int $hits, int $trials, int $allHits, int $allTrials): float
    {
        return 2 * (self::binomial($hits, $trials) + self::binomial($allHits - $hits, $allTrials - $trials) - self::binomial($allHits, $allTrials));
    }

    /** The part of the log likelihood that hangs on the rate, at its best. */
    private static function binomial(int $hits, int $trials): float
    {
        return ($hits > 0 && $trials > 0 ? $hits * log($hits / $trials) : 0.0) + ($hits >= 0 && $trials > $hits ? ($trials - $hits) * log(($trials - $hits) / $trials) : 0.0);
    }
}
