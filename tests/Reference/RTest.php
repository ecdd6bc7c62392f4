<?php

/*
 * The statistics against R (R Core Team, https://www.r-project.org), which computes the same by its own routines:
 * `chisq.test` and `binom.test` of the package stats, and `pchisq(lower.tail = FALSE, log.p = TRUE)`.
 */

use Pellix\Core\Statistics\ChiSquare;
use Pellix\Core\Statistics\ExactMultinomial;
use Pellix\Core\Statistics\SampleRatio;

it('has the chi-square tail of pchisq, from 1 down to 1e-300 and beyond', function () {
    $cases = [];
    foreach ([1, 2, 3, 4, 5, 7, 10, 25, 60, 200] as $df) {
        foreach ([1e-8, 0.01, 0.5, 1, 2.7, 6.6, 15, 40, 100, 333, 700, 1000, 1370, 1400, 5000, 1e5, 1e7] as $x) {
            $cases[] = [$x, $df];
        }
    }
    $x = implode(',', array_column($cases, 0));
    $df = implode(',', array_column($cases, 1));
    $wanted = r("out(pchisq(c({$x}), c({$df}), lower.tail = FALSE, log.p = TRUE))");
    expect($wanted)->toHaveCount(count($cases));
    foreach ($cases as $i => [$statistic, $degrees]) {
        $logP = ChiSquare::logUpperTail((float) $statistic, $degrees);
        if ($wanted[$i] > log(1e-300)) {
            // A relative error of p is an absolute one of its logarithm.
            expect(abs($logP - $wanted[$i]))->toBeLessThan(1e-9, "chi-square {$statistic}, df {$degrees}: {$logP}, R {$wanted[$i]}");
        } else {
            expect($logP)->toAgreeWith($wanted[$i], 1e-9);
        }
    }
});

it('has the statistic and the p-value of chisq.test', function (array $counts, array $weights) {
    [$statistic, $df, $p] = r(sprintf(
        't <- chisq.test(c(%s), p = c(%s), rescale.p = TRUE); out(c(t$statistic, t$parameter, t$p.value))',
        implode(',', $counts),
        implode(',', $weights),
    ));
    $result = SampleRatio::test($counts, $weights);
    expect($result->test)->toBe('chi-square')->and($result->statistic)->toAgreeWith($statistic)->and((float) $result->df)->toBe($df)->and($result->p)->toAgreeWith($p);
})->with([
    [[821588, 815482], [50, 50]],
    [[50, 50], [50, 50]],
    [[1351, 1097, 679], [40, 40, 20]],
    [[9000, 1000, 1100, 950], [8, 1, 1, 1]],
    [[33, 12], [3, 1]],
    [[100, 300], [1, 1]],
    [[5100000, 4990000], [1, 1]],
    [[120, 80, 95, 105, 99, 101], [1, 1, 1, 1, 1, 1]],
]);

it('has the p-value of binom.test', function () {
    $cases = [];
    foreach ([[3, 4], [0, 9], [9, 0], [1, 8], [2, 6], [4, 4], [4, 5]] as [$a, $b]) {
        $cases[] = [$a, $a + $b, 0.5];
    }
    foreach ([0.01, 0.05, 0.1, 0.9, 0.97] as $p) {
        foreach ([0, 1, 2, 5, 11, 29, 30] as $a) {
            $cases[] = [$a, 30, $p];
        }
    }
    $cases = [...$cases, [11, 400, 0.01], [0, 400, 0.01], [3, 400003, 0.000001], [14, 1000000, 0.000004], [200, 1000, 0.004]];
    $wanted = r(implode("\n", array_map(static fn (array $c): string => "out(binom.test({$c[0]}, {$c[1]}, {$c[2]})\$p.value)", $cases)));
    foreach ($cases as $i => [$x, $n, $p]) {
        $result = SampleRatio::test([$x, $n - $x], [$p, 1 - $p]);
        if ($result->test === 'exact-binomial') {
            expect(abs($result->p - $wanted[$i]))->toBeLessThanOrEqual(1e-9 * $wanted[$i], "binom.test({$x}, {$n}, {$p}): {$result->p}, R {$wanted[$i]}");
        }
    }
});

it('has the exact multinomial p-value of a listing by R of all outcomes', function (array $counts, array $weights) {
    $wanted = r(sprintf(<<<'R'
        x <- c(%s); w <- c(%s); n <- sum(x); k <- length(x)
        all <- as.matrix(expand.grid(rep(list(0:n), k - 1)))
        all <- all[rowSums(all) <= n, , drop = FALSE]
        all <- cbind(all, n - rowSums(all))
        d <- apply(all, 1, dmultinom, prob = w)
        out(sum(d[d <= dmultinom(x, prob = w) * (1 + 1e-7)]))
        R, implode(',', $counts), implode(',', $weights)));
    $n = array_sum($counts);
    $expected = array_map(static fn (float|int $w): float => $n * $w / array_sum($weights), $weights);
    expect(exp(ExactMultinomial::logP($counts, $expected)))->toAgreeWith($wanted[0]);
})->with([
    [[3, 4, 5], [1, 1, 1]],
    [[0, 1, 14], [1, 1, 1]],
    [[2, 7, 4], [1, 1, 8]],
    [[1, 0, 12, 2], [4, 3, 2, 1]],
    [[5, 5, 5], [1, 1, 1]],
]);
