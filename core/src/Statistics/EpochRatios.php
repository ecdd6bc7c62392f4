<?php

declare(strict_types=1);

namespace Pellix\Core\Statistics;

/**
 * The sample ratio of an experiment whose weights were changed: each epoch is tested against its own weights, and the epochs
 * are joined by adding up their statistics and degrees of freedom (independent chi-square variables add up to one). An epoch
 * that is so small that an exact test decides enters with -2 ln p, which is chi-square with two degrees of freedom
 * (R. A. Fisher, "Statistical Methods for Research Workers", 4th edition 1932, section 21.1).
 */
final readonly class EpochRatios
{
    /**
     * @param list<SampleRatioResult|null> $each   of each epoch; null where there is nothing to test
     * @param SampleRatioResult|null       $joined null where there is nothing to test in any
     */
    private function __construct(public array $each, public ?SampleRatioResult $joined)
    {
    }

    /**
     * @param list<array{counts: list<int>, weights: list<int|float>}> $epochs
     *
     * @throws InvalidCounts
     */
    public static function test(array $epochs, float $alpha = SampleRatio::ALPHA): self
    {
        $each = array_map(static fn (array $epoch): ?SampleRatioResult => SampleRatio::isTestable($epoch['counts'], $epoch['weights'])
            ? SampleRatio::test($epoch['counts'], $epoch['weights'], $alpha) : null, $epochs);
        $tested = array_values(array_filter($each));

        return new self($each, match (count($tested)) {
            0 => null,
            1 => $tested[0],
            default => self::join($tested, $alpha),
        });
    }

    /** @param non-empty-list<SampleRatioResult> $tested */
    private static function join(array $tested, float $alpha): SampleRatioResult
    {
        $statistic = 0.0;
        $df = 0;
        $observed = array_map(static fn (int $count): int => 0, $tested[0]->observed);
        $expected = array_map(static fn (float $mean): float => 0.0, $tested[0]->expected);
        foreach ($tested as $one) {
            $statistic += $one->statistic ?? -2 * $one->logP;
            $df += $one->df ?? 2;
            $observed = array_map(static fn (int $before, int $count): int => $before + $count, $observed, $one->observed);
            $expected = array_map(static fn (float $before, float $mean): float => $before + $mean, $expected, $one->expected);
        }
        // Where somebody is in what nobody could be given, no sum is needed.
        $logP = is_infinite($statistic) ? -INF : ChiSquare::logUpperTail($statistic, $df);

        return is_infinite($statistic)
            ? new SampleRatioResult('zero-weight', null, null, 0.0, $logP, $alpha, $observed, $expected)
            : new SampleRatioResult('chi-square-epochs', $statistic, $df, exp($logP), $logP, $alpha, $observed, $expected);
    }
}
