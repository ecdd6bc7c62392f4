<?php

declare(strict_types=1);

namespace Pellix\Core\Statistics;

/**
 * Tests whether counts of distinct visitors follow the weights of their variants: sample ratio mismatch (SRM).
 *
 * Pearson's chi-square test of goodness of fit (NIST/SEMATECH e-Handbook of Statistical Methods, 1.3.5.15). Where an
 * expected count is under 5 (the handbook's own limit) an exact test replaces it: binomial for two variants,
 * multinomial for more. Where that would list over a million outcomes, cells with small expectations are pooled until
 * none is under 5 (W. G. Cochran, "Some Methods for Strengthening the Common chi-square Tests", 1954).
 */
final class SampleRatio
{
    /** Alarm level (common practice, no source). */
    public const ALPHA = 0.001;

    private const SMALLEST_EXPECTED = 5;

    /** Counts above this are not exact in a double. */
    private const LARGEST_COUNT = 9007199254740992;

    /**
     * @param list<mixed> $counts  distinct visitors per variant: whole numbers, not negative, not all zero
     * @param list<mixed> $weights one per count: finite numbers, not negative, with a positive sum
     * @param float       $alpha   between 0 and 1, both excluded
     *
     * @throws InvalidCounts
     */
    public static function test(array $counts, array $weights, float $alpha = self::ALPHA): SampleRatioResult
    {
        $counts = self::checkCounts($counts);
        $weights = self::checkWeights($weights, count($counts));
        if (! ($alpha > 0 && $alpha < 1)) {
            throw new InvalidCounts('The alarm level is a number between 0 and 1.', 'alpha');
        }
        $n = array_sum($counts);
        $sum = array_sum($weights);
        $expected = array_map(static fn (float $w): float => $n * $w / $sum, $weights);

        [$test, $statistic, $df, $logP] = self::choose($counts, $expected);

        return new SampleRatioResult($test, $statistic, $df, exp($logP), $logP, $alpha, $counts, $expected);
    }

    /**
     * Whether there is anything to test: of one variant alone that takes anybody in there is no ratio. But for visitors of a
     * variant that nobody could be assigned to, which are a mismatch by themselves.
     *
     * @param list<int>       $counts
     * @param list<int|float> $weights
     */
    public static function isTestable(array $counts, array $weights): bool
    {
        $stray = array_filter($counts, static fn (int $count, int $i): bool => $count > 0 && $weights[$i] <= 0, ARRAY_FILTER_USE_BOTH);

        return array_sum($counts) > 0 && array_sum($weights) > 0 && ($stray !== [] || count(array_filter($weights)) > 1);
    }

    /**
     * Whether `$visitors` are enough for an alarm at all: whether the test would call it a mismatch if the variant with
     * the smallest weight had got nobody.
     *
     * @param list<int|float> $weights
     *
     * @throws InvalidCounts
     */
    public static function canAlarm(int $visitors, array $weights, float $alpha = self::ALPHA): bool
    {
        if ($visitors < 1 || count(array_filter($weights)) < 2) {
            return false;
        }
        $weights = self::checkWeights($weights, count($weights));
        $smallest = min(array_filter($weights) ?: [0.0]);
        $others = array_sum($weights) - $smallest;
        $lost = false;
        $counts = [];
        foreach ($weights as $weight) {
            $counts[] = $lost || $weight !== $smallest ? (int) round($visitors * $weight / max($others, $smallest)) : 0;
            $lost = $lost || $weight === $smallest;
        }

        return self::test($counts, $weights, $alpha)->isMismatch();
    }

    /**
     * The smallest part of its visitors that the variant with the smallest weight must have lost, for the test to call it a
     * mismatch among so many that arrived: what is less would not show yet.
     *
     * @param list<int|float> $weights
     *
     * @return float|null part, to a hundredth; null where not even the loss of all of them would show
     *
     * @throws InvalidCounts
     */
    public static function smallestLoss(int $visitors, array $weights, float $alpha = self::ALPHA): ?float
    {
        if (! self::canAlarm($visitors, $weights, $alpha)) {
            return null;
        }
        $weights = self::checkWeights($weights, count($weights));
        $smallest = (int) array_search(min(array_filter($weights) ?: [0.0]), $weights, true);
        [$hidden, $shown] = [0, 100];
        while ($shown - $hidden > 1) {
            $middle = intdiv($hidden + $shown, 2);
            $left = $weights;
            $left[$smallest] *= 1 - $middle / 100;
            $counts = array_values(array_map(static fn (float $weight): int => (int) round($visitors * $weight / array_sum($left)), $left));
            [$hidden, $shown] = self::test($counts, $weights, $alpha)->isMismatch() ? [$hidden, $middle] : [$middle, $shown];
        }

        return $shown / 100;
    }

    /**
     * @param non-empty-list<int>   $counts
     * @param non-empty-list<float> $expected
     *
     * @return array{string, float|null, int|null, float}
     */
    private static function choose(array $counts, array $expected): array
    {
        $cells = [];
        foreach ($expected as $i => $mean) {
            if ($mean > 0) {
                $cells[] = [$counts[$i], $mean];
            } elseif ($counts[$i] > 0) {
                // Somebody saw a variant that nobody could be assigned to.
                return ['zero-weight', null, null, -INF];
            }
        }
        if (count($cells) < 2) {
            throw new InvalidCounts('At least two variants need a weight above zero.', 'weights');
        }
        $counts = array_column($cells, 0);
        $means = array_column($cells, 1);
        if (min($means) >= self::SMALLEST_EXPECTED) {
            return ['chi-square', ...self::chiSquare($cells)];
        }
        $n = array_sum($counts);
        if (count($cells) === 2) {
            return ['exact-binomial', null, null, ExactBinomial::logP($counts[0], $n, $means[0] / $n)];
        }
        if (ExactMultinomial::outcomes($n, count($cells)) <= ExactMultinomial::MOST_OUTCOMES) {
            return ['exact-multinomial', null, null, ExactMultinomial::logP($counts, $means)];
        }

        return ['chi-square-pooled', ...self::chiSquare(self::pool($cells))];
    }

    /**
     * @param non-empty-list<array{int, float}> $cells
     *
     * @return array{float, int, float} statistic, degrees of freedom, ln p
     */
    private static function chiSquare(array $cells): array
    {
        $statistic = 0.0;
        foreach ($cells as [$count, $mean]) {
            $statistic += ($count - $mean) ** 2 / $mean;
        }
        $df = count($cells) - 1;

        return [$statistic, $df, ChiSquare::logUpperTail($statistic, $df)];
    }

    /**
     * Joins the two smallest cells until none expects under 5. At least two remain: pooling is reached only with
     * so many visitors that the largest cell alone expects far more.
     *
     * @param non-empty-list<array{int, float}> $cells
     *
     * @return non-empty-list<array{int, float}>
     */
    private static function pool(array $cells): array
    {
        while (true) {
            usort($cells, static fn (array $a, array $b): int => $a[1] <=> $b[1]);
            if ($cells[0][1] >= self::SMALLEST_EXPECTED || count($cells) === 2) {
                return $cells;
            }
            $second = $cells[1];
            $cells[1] = [$cells[0][0] + $second[0], $cells[0][1] + $second[1]];
            array_shift($cells);
        }
    }

    /**
     * @param list<mixed> $counts
     *
     * @return non-empty-list<int>
     */
    private static function checkCounts(array $counts): array
    {
        if (count($counts) < 2) {
            throw new InvalidCounts('A sample ratio needs the counts of at least two variants.', 'counts');
        }
        $checked = [];
        foreach ($counts as $i => $count) {
            if (! is_int($count) || $count < 0 || $count > self::LARGEST_COUNT) {
                throw new InvalidCounts('A count is a whole number from 0 to 9007199254740992.', "counts.{$i}");
            }
            $checked[] = $count;
        }
        if (array_sum($checked) === 0) {
            throw new InvalidCounts('All counts are zero: there is nothing to test yet.', 'counts');
        }

        return $checked;
    }

    /**
     * @param list<mixed> $weights
     *
     * @return non-empty-list<float>
     */
    private static function checkWeights(array $weights, int $counts): array
    {
        if (count($weights) !== $counts) {
            throw new InvalidCounts("There are {$counts} counts but ".count($weights).' weights; give one for each.', 'weights');
        }
        $checked = [];
        foreach ($weights as $i => $weight) {
            if ((! is_int($weight) && ! is_float($weight)) || ! is_finite((float) $weight) || $weight < 0) {
                throw new InvalidCounts('A weight is a number that is not negative.', "weights.{$i}");
            }
            $checked[] = (float) $weight;
        }
        $sum = array_sum($checked);
        if ($checked === [] || ! is_finite($sum) || $sum <= 0) {
            throw new InvalidCounts('The weights need a positive sum.', 'weights');
        }

        return $checked;
    }
}
