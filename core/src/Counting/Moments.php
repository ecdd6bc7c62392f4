<?php

declare(strict_types=1);

namespace Pellix\Core\Counting;

/** Mean and standard deviation of numbers that come one by one: B. P. Welford, "Note on a Method for Calculating Corrected Sums of Squares and Products" (1962). */
final class Moments
{
    private int $n = 0;

    private float $mean = 0.0;

    private float $squares = 0.0;

    public function add(float $value): void
    {
        $this->n++;
        $from = $value - $this->mean;
        $this->mean += $from / $this->n;
        $this->squares += $from * ($value - $this->mean);
    }

    /** @return array{mean: float, sd: float}|null the standard deviation over n - 1; null of fewer than two numbers */
    public function toArray(): ?array
    {
        return $this->n < 2 ? null : ['mean' => $this->mean, 'sd' => sqrt($this->squares / ($this->n - 1))];
    }
}
