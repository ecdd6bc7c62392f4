<?php

declare(strict_types=1);

namespace Pellix\Core\Audit\Shapes;

use Pellix\Core\Audit\Sums\OrderSum;

/** Robust figures of values whose logarithms (to the base 10) were counted in bins. */
final readonly class Histogram
{
    public int $number;

    /** @param array<int, int> $bins bin => number */
    public function __construct(private array $bins)
    {
        $this->number = array_sum($bins);
    }

    public function median(): float
    {
        return self::middle($this->bins);
    }

    /** The median of what lies in some bins alone. @param callable(int): bool $isIn */
    public function medianOf(callable $isIn): float
    {
        return self::middle(array_filter($this->bins, $isIn, ARRAY_FILTER_USE_KEY));
    }

    /** Median absolute deviation from the median, times 1.4826: the standard deviation of normal values. */
    public function deviation(): float
    {
        $median = $this->median();
        $distances = [];
        foreach ($this->bins as $bin => $number) {
            $distance = (int) floor(abs(($bin + 0.5) / OrderSum::BINS - $median) * OrderSum::BINS);
            $distances[$distance] = ($distances[$distance] ?? 0) + $number;
        }

        return 1.4826 * self::middle($distances);
    }

    /** How many lie from one logarithm up to another. */
    public function between(float $from, float $to): int
    {
        $sum = 0;
        foreach ($this->bins as $bin => $number) {
            $at = ($bin + 0.5) / OrderSum::BINS;
            $sum += $at >= $from && $at < $to ? $number : 0;
        }

        return $sum;
    }

    /** @param array<int, int> $bins */
    private static function middle(array $bins): float
    {
        ksort($bins);
        $half = array_sum($bins) / 2;
        $so = 0;
        foreach ($bins as $bin => $number) {
            if ($so + $number >= $half && $number > 0) {
                return ($bin + ($half - $so) / $number) / OrderSum::BINS;
            }
            $so += $number;
        }

        return 0.0;
    }
}
