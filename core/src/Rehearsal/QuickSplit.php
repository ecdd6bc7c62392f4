<?php

declare(strict_types=1);

namespace Pellix\Core\Rehearsal;

use Pellix\Core\Statistics\ExactBinomial;
use Pellix\Core\Statistics\ExactMultinomial;
use Pellix\Core\Statistics\SampleRatio;

/** Whether a few hundred visitors were split as weighted: by an exact test, where not too many outcomes have to be listed. */
final class QuickSplit
{
    /**
     * @param non-empty-list<int>   $counts  at least two, not all zero
     * @param non-empty-list<float> $weights positive
     *
     * @return array{p: float, test: string}
     */
    public static function test(array $counts, array $weights): array
    {
        $n = array_sum($counts);
        $sum = array_sum($weights);
        if (count($counts) === 2) {
            return ['p' => exp(ExactBinomial::logP($counts[0], $n, $weights[0] / $sum)), 'test' => 'exact binomial test'];
        }
        if (ExactMultinomial::outcomes($n, count($counts)) <= ExactMultinomial::MOST_OUTCOMES) {
            return ['p' => exp(ExactMultinomial::logP($counts, array_map(static fn (float $weight): float => $n * $weight / $sum, $weights))), 'test' => 'exact multinomial test'];
        }
        $result = SampleRatio::test($counts, $weights);

        return ['p' => $result->p, 'test' => "{$result->test} test"];
    }
}
