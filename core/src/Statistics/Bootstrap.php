<?php

declare(strict_types=1);

namespace Pellix\Core\Statistics;

use Random\Engine;
use Random\Engine\Xoshiro256StarStar;
use Random\Randomizer;

/**
 * The bootstrap of a difference of two means (B. Efron, "Bootstrap Methods: Another Look at the Jackknife", Annals of Statistics 7,
 * 1979), percentile intervals, for values of which many are the same: how often each is drawn is a Poisson number (N. Chamandy,
 * O. Muralidharan, A. Najmi, S. Naidu, "Estimating Uncertainty for Massive Data Streams", Google technical report 2012). The draws follow from
 * the seed alone: the same values give the same interval.
 */
final class Bootstrap
{
    public const DRAWS = 2000;

    private const SEED = 20_260_302;

    /** Up to there a Poisson number is drawn exactly; above it is rounded from a normal one. */
    private const SMALL = 40;

    private readonly Randomizer $chance;

    private function __construct(Engine $engine)
    {
        $this->chance = new Randomizer($engine);
    }

    /**
     * Of the first mean from the second.
     *
     * @param list<array{int, float}> $first  how many units have which value
     * @param list<array{int, float}> $second
     */
    public static function interval(array $first, array $second, float $level, int $draws = self::DRAWS): Interval
    {
        $of = new self(new Xoshiro256StarStar(self::SEED));
        $differences = [];
        for ($i = 0; $i < $draws; $i++) {
            $differences[] = $of->mean($first) - $of->mean($second);
        }
        sort($differences);
        $out = (1 - $level) / 2 * ($draws - 1);

        return new Interval($differences[(int) floor($out)], $differences[(int) ceil($draws - 1 - $out)]);
    }

    /** @param list<array{int, float}> $values */
    private function mean(array $values): float
    {
        [$n, $sum] = [0, 0.0];
        foreach ($values as [$units, $value]) {
            $drawn = $this->poisson($units);
            $n += $drawn;
            $sum += $drawn * $value;
        }

        return $n === 0 ? 0.0 : $sum / $n;
    }

    private function poisson(int $mean): int
    {
        if ($mean > self::SMALL) {
            // Box, Muller 1958.
            return max(0, (int) round($mean + sqrt($mean) * sqrt(-2 * log($this->uniform())) * cos(2 * M_PI * $this->uniform())));
        }
        $limit = exp(-$mean);
        $product = $this->uniform();
        for ($k = 0; $product > $limit; $k++) {
            $product *= $this->uniform();
        }

        return $k;
    }

    /** Above 0, at most 1. */
    private function uniform(): float
    {
        return ($this->chance->getInt(0, (1 << 53) - 1) + 1) / (1 << 53);
    }
}
