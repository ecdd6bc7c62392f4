<?php

declare(strict_types=1);

namespace Pellix\Core\Rehearsal;

/** What makes a difference, from paired measurements: the median of the differences, and their range. */
final readonly class Paired
{
    public float $median;

    public float $least;

    public float $most;

    /**
     * @param non-empty-list<float> $with    one for each pair
     * @param non-empty-list<float> $without the same number
     */
    public function __construct(array $with, array $without)
    {
        $differences = array_map(static fn (float $a, float $b): float => $a - $b, $with, $without);
        sort($differences);
        $n = count($differences);
        $this->least = $differences[0];
        $this->most = $differences[$n - 1];
        $this->median = $n % 2 === 1 ? $differences[intdiv($n, 2)] : ($differences[intdiv($n, 2) - 1] + $differences[intdiv($n, 2)]) / 2;
    }
}
