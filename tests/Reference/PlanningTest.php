<?php

/*
 * Plans against R (`power.prop.test`, `power.t.test`, `fisher.test`, `qnorm`, `qt`, `pt` of the package stats), and against
 * published formulas worked out in R by their definition.
 */

use Pellix\Core\Planning\Demand;
use Pellix\Core\Planning\Means;
use Pellix\Core\Planning\NotWorse;
use Pellix\Core\Planning\Planner;
use Pellix\Core\Planning\Proportions;
use Pellix\Core\Statistics\FisherExact;
use Pellix\Core\Statistics\Normal;
use Pellix\Core\Statistics\StudentT;

it('has the quantiles and tails of qnorm, qt and pt', function () {
    $p = [0.4999, 0.3, 0.05, 0.025, 0.001, 1e-6, 1e-12];
    foreach (r('out(qnorm(c('.implode(',', $p).'), lower.tail = FALSE))') as $i => $z) {
        expect(Normal::above($p[$i]))->toAgreeWith($z, 1e-9);
    }
    foreach ([1, 2, 3.5, 12, 100, 2000.5, 1e5] as $df) {
        [$critical, $tails] = (static fn (array $all): array => [$all[0], array_slice($all, 1)])(r("out(qt(0.025, {$df}, lower.tail = FALSE)); out(pt(c(2, 1.96, -1, 4.3), {$df}, c(2.8, 0, -2, 9), lower.tail = FALSE))"));
        expect(StudentT::above(0.025, $df))->toAgreeWith($critical, 1e-8);
        foreach ([[2, 2.8], [1.96, 0], [-1, -2], [4.3, 9]] as $i => [$t, $ncp]) {
            expect(abs(StudentT::upperTail($t, $df, $ncp) - $tails[$i]))->toBeLessThan(1e-9);
        }
    }
});

it('needs as many visitors as power.prop.test says, and finds again what it was asked for', function () {
    $cases = [];
    foreach ([0.001, 0.012, 0.05, 0.2, 0.5, 0.9] as $baseline) {
        foreach ([-0.3, -0.02, 0.03, 0.1, 0.6] as $lift) {
            foreach ([[0.05, 0.8, 2], [0.01, 0.9, 2], [0.1, 0.8, 1]] as $asked) {
                $baseline * (1 + $lift) < 1 && $cases[] = [$baseline, $baseline * $lift, ...$asked];
            }
        }
    }
    $wanted = r('f <- function(p, d, a, w, s) { z <- power.prop.test(p1 = p, p2 = p + d, sig.level = a, power = w, alternative = c("one.sided", "two.sided")[s], tol = 1e-9)$n; z }
        for (x in list('.implode(',', array_map(static fn (array $case): string => 'c('.implode(',', $case).')', $cases)).')) out(f(x[1], x[2], x[3], x[4], x[5]))');
    expect($wanted)->toHaveCount(count($cases));
    foreach ($cases as $i => [$baseline, $difference, $alpha, $power, $sides]) {
        $demand = Demand::of($alpha, $power, $sides);
        $planner = Planner::of(Proportions::of($baseline), $demand, [50, 50]);
        expect(Proportions::of($baseline)->visitors($difference, 1.0, $demand))->toAgreeWith($wanted[$i], 1e-6)
            ->and($planner->visitors($difference)->each)->toBe([(int) ceil($wanted[$i] - 1e-6), (int) ceil($wanted[$i] - 1e-6)])
            ->and($planner->powers($difference, 2 * $wanted[$i])[0])->toAgreeWith($power, 1e-6)
            ->and($planner->smallest(2 * $wanted[$i], $difference > 0 ? 1 : -1))->toAgreeWith(abs($difference), 1e-6);
    }
});

it('needs as many visitors as power.t.test says, down to two', function () {
    $cases = [];
    foreach ([0.02, 0.1, 0.4, 1.0, 2.2, 9.0] as $difference) {
        foreach ([[0.05, 0.8, 2], [0.005, 0.95, 2], [0.05, 0.9, 1]] as $asked) {
            $cases[] = [$difference, ...$asked];
        }
    }
    $wanted = r('f <- function(d, a, w, s) power.t.test(delta = d, sd = 1, sig.level = a, power = w, alternative = c("one.sided", "two.sided")[s], tol = 1e-9)$n
        for (x in list('.implode(',', array_map(static fn (array $case): string => 'c('.implode(',', $case).')', $cases)).')) out(f(x[1], x[2], x[3], x[4]))');
    foreach ($cases as $i => [$difference, $alpha, $power, $sides]) {
        $planner = Planner::of(Means::of(3.0, 1.0), Demand::of($alpha, $power, $sides), [1, 1]);
        expect($planner->visitors($difference)->each[0])->toBe(max(2, (int) ceil($wanted[$i] - 1e-6)), "difference {$difference}, alpha {$alpha}: R {$wanted[$i]}");
        if ($wanted[$i] > 2) {
            expect($planner->smallest(2 * $wanted[$i], 1))->toAgreeWith($difference, 1e-6)->and($planner->powers($difference, 2 * $wanted[$i])[0])->toAgreeWith($power, 1e-6);
        }
    }
});

it('plans unequal groups by the published formula', function (array $weights, float $p1, float $p2) {
    // Fleiss, Levin, Paik, "Statistical Methods for Rates and Proportions" (3rd edition 2003), 4.4, without the continuity correction.
    $ratio = $weights[1] / $weights[0];
    [$n] = r("r <- {$ratio}; p1 <- {$p1}; p2 <- {$p2}; P <- (p1 + r * p2) / (r + 1)
        out((qnorm(0.975) * sqrt((r + 1) * P * (1 - P)) + qnorm(0.8) * sqrt(r * p1 * (1 - p1) + p2 * (1 - p2)))^2 / (r * (p2 - p1)^2))");
    expect(Planner::of(Proportions::of($p1), Demand::of(), $weights)->visitors($p2 - $p1)->each)->toBe([(int) ceil($n), (int) ceil($ratio * $n)]);
})->with([
    [[50, 50], 0.05, 0.055], [[80, 20], 0.05, 0.06], [[20, 80], 0.05, 0.06], [[90, 10], 0.3, 0.25], [[1, 3], 0.5, 0.9],
]);

it('shows a guardrail to be kept by power.t.test with the margin as difference, and by the published formula', function () {
    [$mean] = r('out(power.t.test(delta = 0.3, sd = 1, sig.level = 0.05, power = 0.8, alternative = "one.sided", tol = 1e-9)$n)');
    expect(Planner::of(NotWorse::of(Means::of(5.0, 1.0), 0.3), Demand::of(sides: 1), [1, 1])->visitors(0.0)->each[0])->toBe((int) ceil($mean));
    // Chow, Shao, Wang, "Sample Size Calculations in Clinical Research" (2nd edition 2008), 4.2: the example with 65 % against 85 % and a margin of 10 % needs 25 in each group (value from memory).
    $planner = Planner::of(NotWorse::of(Proportions::of(0.65), 0.1), Demand::of(sides: 1), [1, 1]);
    expect($planner->visitors(0.2)->each)->toBe([25, 25]);
    $needed = $planner->visitors(0.0)->total();
    expect($planner->smallest($needed, 1))->toBeLessThanOrEqual(0.1)->toBeGreaterThan(0.0995);
});

it('adds up the power of fisher.test', function (int $n1, int $n2, float $p1, float $p2, int $sides) {
    $alternative = $sides === 2 ? 'two.sided' : ($p2 > $p1 ? 'less' : 'greater');
    [$power] = r("s <- 0
        for (x in 0:{$n1}) if (dbinom(x, {$n1}, {$p1}) > 1e-13) for (y in 0:{$n2}) if (dbinom(y, {$n2}, {$p2}) > 1e-13)
            if (fisher.test(matrix(c(x, {$n1} - x, y, {$n2} - y), 2), alternative = '{$alternative}')\$p.value <= 0.05) s <- s + dbinom(x, {$n1}, {$p1}) * dbinom(y, {$n2}, {$p2})
        out(s)");
    expect(FisherExact::power($n1, $n2, $p1, $p2, 0.05, $sides))->toAgreeWith($power, 1e-8);
})->with([[100, 100, 0.01, 0.1, 2], [300, 150, 0.002, 0.04, 2], [60, 60, 0.95, 0.7, 1], [40, 40, 0.02, 0.2, 1]]);
