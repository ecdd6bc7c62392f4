<?php

declare(strict_types=1);

namespace Pellix\Core\Audit\Shapes;

use Pellix\Core\Audit\Reading\Keys;
use Pellix\Core\Audit\Setup;
use Pellix\Core\Audit\Sums\Cohorts;
use Pellix\Core\Statistics\InvalidCounts;
use Pellix\Core\Statistics\LikelihoodRatio;
use Pellix\Core\Statistics\SampleRatio;

/** Which variant lost visitors (or has too many), of whom, and since when: the smallest description that explains a split. */
final readonly class RatioFault
{
    /** A segment explains more than everybody does where its G² is larger by so much: that is what chance gives among some hundred of them. */
    private const BETTER = 12.0;

    /** The rest of the visitors is balanced where its p-value is not under this (common practice, no source). */
    private const BALANCED = 0.01;

    /** A description by two dimensions has to be better by so much than one by one of them. */
    private const NARROWER = 6.0;

    private const MOST_VALUES = 3;
    private const MOST_HOURS = 12;

    /** Dimensions that say whom it is about; when it was is told otherwise. */
    private const WHO = ['device', 'browser', 'source', 'country', 'host', 'page', 'visitor', 'browser+device', 'browser+country', 'browser+source', 'country+device', 'device+source', 'country+source'];

    /**
     * @param int          $variant  place of the variant
     * @param list<string> $keys     of the segments that explain it together, of one dimension; none where it is everybody
     * @param list<int>    $observed in these, by variant, in the stretch of time
     * @param list<float>  $expected
     * @param int          $missing  visitors that it lacks (has too many, where negative), from the other variants' counts
     * @param float        $part     of its visitors that are missing
     * @param float|null   $rest     ln p without these segments; null where it is everybody
     */
    private function __construct(
        public int $variant,
        public array $keys,
        public array $observed,
        public array $expected,
        public int $missing,
        public float $part,
        public ?int $since,
        public ?int $until,
        public ?float $rest,
    ) {
    }

    /**
     * @param list<string>|null $only keys that are known to be off; null to look for what explains the split of all
     * @param list<string>      $dimensions that it is looked for in
     */
    public static function of(Cohorts $exposed, Setup $setup, ?array $only = null, array $dimensions = self::WHO): ?self
    {
        $all = self::counts($exposed, '', $setup);
        if (array_sum($all[0]) === 0) {
            return null;
        }
        [$keys, $rest] = $only === null ? self::segments($exposed, $setup, $dimensions) : [$only, null];
        $of = new Cohorts();
        foreach ($keys === [] ? [''] : $keys as $key) {
            foreach ($exposed->of[$key] ?? [] as $cell => $number) {
                $of->of[''][$cell] = ($of->of[''][$cell] ?? 0) + $number;
            }
        }
        $break = RatioBreak::of($of, '', $setup, $keys === [] ? 1 : Cohorts::STEP);
        [$observed, $expected] = $break === null ? self::counts($of, '', $setup) : [$break->observed, $break->expected];
        [$variant, $missing, $part] = self::culprit($observed, $expected);

        return new self($variant, $keys, $observed, $expected, $missing, $part, $break?->since, $break?->until, $rest);
    }

    /**
     * Looked for in all the time, and in the stretch that all visitors together are off in, where it is clearer.
     *
     * @param list<string> $dimensions
     *
     * @return array{list<string>, float|null} keys, and ln p of the rest
     */
    private static function segments(Cohorts $exposed, Setup $setup, array $dimensions): array
    {
        $best = self::explaining($exposed, $setup, $dimensions);
        $break = $dimensions === self::WHO ? RatioBreak::of($exposed, '', $setup) : null;
        if ($break !== null && ($break->since !== null || $break->until !== null)) {
            $within = self::explaining($exposed->during($break->since, $break->until), $setup, $dimensions);
            $best = $within[2] > $best[2] ? $within : $best;
        }

        return [$best[0], $best[1]];
    }

    /**
     * @param list<string> $dimensions
     *
     * @return array{list<string>, float|null, float} keys, ln p of the rest, and by how much they are better than everybody
     */
    private static function explaining(Cohorts $exposed, Setup $setup, array $dimensions): array
    {
        $all = self::counts($exposed, '', $setup);
        $whole = LikelihoodRatio::ofCounts(...$all);
        $candidates = [];
        foreach ($exposed->keys() as $key) {
            if (in_array(Keys::parts($key)[0], $dimensions, true)) {
                $counts = self::counts($exposed, $key, $setup);
                $candidates[] = ['keys' => [$key], 'counts' => $counts, 'g' => LikelihoodRatio::ofCounts(...$counts)];
            }
        }
        usort($candidates, static fn (array $a, array $b): int => $b['g'] <=> $a['g'] ?: strcmp($a['keys'][0], $b['keys'][0]));
        $candidates = $single = array_slice($candidates, 0, 60);
        // Several values of one dimension, such as two browsers.
        foreach (array_slice($single, 0, 12) as $one) {
            foreach ($single as $other) {
                if (count($one['keys']) < (Keys::parts($one['keys'][0])[0] === 'hour' ? self::MOST_HOURS : self::MOST_VALUES) && Keys::parts($other['keys'][0])[0] === Keys::parts($one['keys'][0])[0] && ! in_array($other['keys'][0], $one['keys'], true)) {
                    $counts = [self::plus($one['counts'][0], $other['counts'][0]), self::plus($one['counts'][1], $other['counts'][1])];
                    $g = LikelihoodRatio::ofCounts(...$counts);
                    if ($g > $one['g'] + self::BETTER) {
                        $one = ['keys' => [...$one['keys'], $other['keys'][0]], 'counts' => $counts, 'g' => $g];
                    }
                }
            }
            count($one['keys']) > 1 && $candidates[] = $one;
        }
        $best = null;
        foreach ($candidates as $one) {
            $dimensions = substr_count(Keys::parts($one['keys'][0])[0], '+') + count($one['keys']);
            $score = $one['g'] - self::NARROWER * $dimensions;
            if ($best === null || $score > $best[0]) {
                $best = [$score, $one];
            }
        }
        if ($best === null || $best[1]['g'] < $whole + self::BETTER) {
            return [[], null, 0.0];
        }
        $rest = self::logP(
            array_map(static fn (int $a, int $b): int => max(0, $a - $b), $all[0], $best[1]['counts'][0]),
            array_map(static fn (float $a, float $b): float => max(0.0, $a - $b), $all[1], $best[1]['counts'][1]),
        );

        return $rest > log(self::BALANCED) ? [$best[1]['keys'], $rest, $best[1]['g'] - $whole] : [[], null, 0.0];
    }

    /**
     * The variant without which the others are balanced: it lost visitors, or has too many. Of two the one that has fewer.
     *
     * @param list<int>   $observed
     * @param list<float> $expected
     *
     * @return array{int, int, float} place, missing, part
     */
    private static function culprit(array $observed, array $expected): array
    {
        $best = null;
        $missing = self::missing($observed, $expected);
        foreach ($observed as $i => $count) {
            [$others, $means] = [$observed, $expected];
            unset($others[$i], $means[$i]);
            $should = $count + $missing[$i];
            if ($should <= 0) {
                continue;
            }
            $logP = count($others) > 1 ? self::logP(array_values($others), array_values($means)) : ($missing[$i] > 0 ? 0.0 : -1.0);
            if ($best === null || $logP > $best[0] || ($logP === $best[0] && $missing[$i] / $should > $best[3])) {
                $best = [$logP, $i, (int) round($missing[$i]), $missing[$i] / $should];
            }
        }

        return $best === null ? [0, 0, 0.0] : [$best[1], $best[2], $best[3]];
    }

    /**
     * How many visitors each variant lacks, were the others complete; negative where it has too many.
     *
     * @param list<int>   $observed
     * @param list<float> $expected
     *
     * @return list<float>
     */
    public static function missing(array $observed, array $expected): array
    {
        $missing = [];
        $n = array_sum($observed);
        $sum = array_sum($expected);
        foreach ($observed as $i => $count) {
            $missing[] = $sum - $expected[$i] > 0 ? ($n - $count) * $expected[$i] / ($sum - $expected[$i]) - $count : 0.0;
        }

        return $missing;
    }

    /** @return array{list<int>, list<float>} observed and expected, by variant */
    public static function counts(Cohorts $exposed, string $key, Setup $setup): array
    {
        $n = count($setup->variants);
        $observed = array_fill(0, $n, 0);
        $expected = array_fill(0, $n, 0.0);
        foreach ($exposed->byEpoch($key) as $epoch => $numbers) {
            $weights = $setup->weights($epoch);
            $sum = array_sum($weights);
            $all = array_sum(array_intersect_key($numbers, $observed));
            for ($v = 0; $v < $n; $v++) {
                $observed[$v] += $numbers[$v] ?? 0;
                $expected[$v] += $sum > 0 ? $all * $weights[$v] / $sum : 0.0;
            }
        }

        return [array_values($observed), array_values($expected)];
    }

    /**
     * @param list<int>   $observed
     * @param list<float> $expected
     */
    public static function logP(array $observed, array $expected): float
    {
        try {
            return SampleRatio::isTestable($observed, $expected) ? SampleRatio::test($observed, $expected)->logP : 0.0;
        } catch (InvalidCounts) {
            return 0.0;
        }
    }

    /**
     * @template N of int|float
     *
     * @param list<N> $a
     * @param list<N> $b
     *
     * @return list<N>
     */
    private static function plus(array $a, array $b): array
    {
        /** @var list<N> */
        return array_map(static fn (int|float $one, int|float $other): int|float => $one + $other, $a, $b);
    }
}
