<?php

declare(strict_types=1);

namespace Pellix\Core\Statistics;

/** Pearson's chi-square test of independence of the rows and columns of a table of counts; R's `chisq.test(correct = FALSE)`. */
final readonly class Contingency
{
    /**
     * @param float                    $logP      natural logarithm of p; 0.0 where there is nothing to test
     * @param array<int, array<int, float>> $residuals standardised (adjusted) residual of each cell, about a standard normal value (S. J. Haberman 1973)
     * @param float                    $smallest  expected count
     */
    private function __construct(public float $statistic, public int $df, public float $logP, public array $residuals, public float $smallest)
    {
    }

    /** @param list<list<int>> $table rows of equal length; rows and columns without a count are left out */
    public static function test(array $table): self
    {
        $rows = array_filter(array_map(array_sum(...), $table));
        $columns = [];
        foreach (array_keys($table[0] ?? []) as $j) {
            $sum = array_sum(array_column($table, $j));
            if ($sum > 0) {
                $columns[$j] = $sum;
            }
        }
        $n = array_sum($rows);
        $df = (count($rows) - 1) * (count($columns) - 1);
        if ($df < 1) {
            return new self(0.0, 0, 0.0, [], 0.0);
        }
        $statistic = 0.0;
        $residuals = [];
        $smallest = INF;
        foreach ($rows as $i => $row) {
            foreach ($columns as $j => $column) {
                $expected = $row * $column / $n;
                $smallest = min($smallest, $expected);
                $difference = $table[$i][$j] - $expected;
                $statistic += $difference ** 2 / $expected;
                $residuals[$i][$j] = $difference / sqrt(max(1e-300, $expected * (1 - $row / $n) * (1 - $column / $n)));
            }
        }

        return new self($statistic, $df, ChiSquare::logUpperTail($statistic, $df), $residuals, $smallest);
    }
}
