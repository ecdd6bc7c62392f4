<?php

/*
 * The statistics of an audit against R (R Core Team, https://www.r-project.org) and the papers that they are from: `p.adjust`,
 * `fisher.test`, `phyper`, `chisq.test` and `pnbinom` of the package stats, and the closed form of Lindon and Malek.
 */

use Pellix\Core\Statistics\AnytimeRatio;
use Pellix\Core\Statistics\Contingency;
use Pellix\Core\Statistics\FalseDiscovery;
use Pellix\Core\Statistics\Hypergeometric;
use Pellix\Core\Statistics\NegativeBinomial;
use Pellix\Core\Statistics\Normal;
use Pellix\Core\Statistics\Wilson;

it('adjusts p-values as p.adjust does', function () {
    $p = [0.01, 0.02, 0.03, 0.04, 0.05, 1e-12, 0.9, 1.0, 0.02, 3e-300];
    $wanted = r('out(p.adjust(c('.implode(',', array_map(fn (float $one): string => sprintf('%.17g', $one), $p)).'), "BH"))');
    foreach (FalseDiscovery::adjust(array_map(log(...), $p)) as $i => $log) {
        expect(exp($log))->toAgreeWith($wanted[$i]);
    }
});

// Benjamini, Hochberg (1995), section 3.2: fifteen p-values, of which the procedure at 0.05 rejects the four smallest.
it('rejects what Benjamini and Hochberg reject in their example', function () {
    $p = [0.0001, 0.0004, 0.0019, 0.0095, 0.0201, 0.0278, 0.0298, 0.0344, 0.0459, 0.3240, 0.4262, 0.5719, 0.6528, 0.7590, 1.0];
    expect(array_keys(array_filter(FalseDiscovery::adjust(array_map(log(...), $p)), fn (float $log): bool => $log <= log(0.05))))->toEqualCanonicalizing([0, 1, 2, 3]);
});

it('has the p-value of fisher.test and the tail of phyper', function () {
    $tables = [[3, 1, 1, 3], [0, 10, 9, 4], [12, 988, 30, 970], [0, 500, 17, 483], [7, 3, 2, 90], [150, 9850, 210, 9790]];
    $wanted = r('for (t in list('.implode(',', array_map(fn (array $t): string => 'c('.implode(',', $t).')', $tables)).')) out(c(fisher.test(matrix(t, 2, byrow = TRUE))$p.value, phyper(t[1], t[1] + t[3], t[2] + t[4], t[1] + t[2], log.p = TRUE)))');
    foreach ($tables as $i => [$a, $b, $c, $d]) {
        expect(exp(Hypergeometric::logFisher([$a, $b], [$c, $d])))->toAgreeWith($wanted[2 * $i])
            ->and(exp(Hypergeometric::logAtMost($a, $a + $b, $a + $c, $a + $b + $c + $d)))->toAgreeWith(exp($wanted[2 * $i + 1]));
    }
});

// R. A. Fisher, "The Design of Experiments" (1935), chapter 2: the lady tasting tea, three of four right: p = 0.486.
it('has the p-value of the lady tasting tea', function () {
    expect(round(exp(Hypergeometric::logFisher([3, 1], [1, 3])), 3))->toBe(0.486);
});

it('tests independence as chisq.test does', function () {
    foreach ([[[20, 30], [40, 10]], [[100, 120, 90], [95, 140, 60]], [[5000, 5100], [5050, 4990], [20, 35]]] as $table) {
        [$statistic, $df, $p, $residual] = r(sprintf('t <- chisq.test(matrix(c(%s), %d, byrow = TRUE), correct = FALSE); out(c(t$statistic, t$parameter, t$p.value, t$stdres[1, 1]))', implode(',', array_merge(...$table)), count($table)));
        $test = Contingency::test($table);
        expect($test->statistic)->toAgreeWith($statistic)->and((float) $test->df)->toBe($df)->and(exp($test->logP))->toAgreeWith($p)->and($test->residuals[0][0])->toAgreeWith($residual);
    }
});

it('has the lower tail of pnbinom, and of ppois where nothing varies more', function () {
    foreach ([[0, 20.0, 3.0], [5, 40.0, 5.0], [100, 400.0, 9.0], [900, 1000.0, 2.0]] as [$x, $mean, $dispersion]) {
        $size = round(2 * $mean / ($dispersion - 1)) / 2;
        expect(NegativeBinomial::logAtMost($x, $mean, $dispersion))->toAgreeWith(r("out(pnbinom({$x}, size = {$size}, mu = {$mean}, log.p = TRUE))")[0], 1e-8);
    }
    expect(NegativeBinomial::logAtMost(3, 12.0, 1.0))->toAgreeWith(r('out(ppois(3, 12, log.p = TRUE))')[0], 1e-8);
});

// Lindon, Malek, "Anytime-Valid Inference for Multinomial Count Data" (2020): the closed form, by R's lgamma.
it('has the Bayes factor of Lindon and Malek', function (array $counts, array $weights) {
    $prior = AnytimeRatio::prior([$weights]);
    [$wanted] = r(sprintf('x <- c(%s); a <- c(%s); w <- c(%s); w <- w / sum(w); out(lgamma(sum(a)) - lgamma(sum(a) + sum(x)) + sum(lgamma(a + x) - lgamma(a)) - sum(x * log(w)))', implode(',', $counts), implode(',', $prior), implode(',', $weights)));
    // R's own sum of large numbers that nearly cancel is good to about 1e-9 of the largest of them times 1e-7.
    expect(abs(AnytimeRatio::logBayesFactor($counts, $weights, $prior) - $wanted))->toBeLessThan(max(1e-9, 1e-15 * array_sum($counts) * log(max($counts)) * 4));
})->with([
    [[10, 12], [50, 50]], [[500, 450], [50, 50]], [[821_588, 815_482], [50, 50]], [[900, 120], [90, 10]], [[40, 41, 17], [40, 40, 20]], [[10_000, 10_200, 9_900, 10_050], [1, 1, 1, 1]], [[3, 0, 1], [1, 1, 1]],
]);

it('raises fewer alarms than its level, however often one looks', function () {
    mt_srand(20260302);
    $alarms = 0;
    $weights = [40, 40, 20];
    $prior = AnytimeRatio::prior([$weights]);
    for ($stream = 0; $stream < 2000; $stream++) {
        $counts = [0, 0, 0];
        for ($day = 0; $day < 28; $day++) {
            for ($i = 0; $i < 40; $i++) {
                $at = mt_rand(0, 99);
                $counts[$at < 40 ? 0 : ($at < 80 ? 1 : 2)]++;
            }
            if (AnytimeRatio::logBayesFactor($counts, $weights, $prior) > -log(0.05)) {
                $alarms++;
                break;
            }
        }
    }
    // Ville's inequality: at most 5 %, so at most 100 of 2000 but for chance.
    expect($alarms)->toBeLessThan(100)->toBeGreaterThan(0);
});

// Wilson (1927) by R's prop.test; R. G. Newcombe, "Two-sided confidence intervals for the single proportion", Statistics in Medicine 17 (1998), table I, method 3: 81/263 → 0.2553 to 0.3662.
it('has the score interval of prop.test, and of Newcombe’s table', function () {
    expect(array_map(fn (float $end): float => round($end, 4), Wilson::interval(81, 263, Normal::above(0.025))))->toBe([0.2553, 0.3662]);
    foreach ([[56, 70], [0, 20], [20, 20], [1, 29], [9700, 10_000]] as [$x, $n]) {
        $wanted = r("out(suppressWarnings(prop.test({$x}, {$n}, correct = FALSE)\$conf.int))");
        [$low, $high] = Wilson::interval($x, $n, Normal::above(0.025));
        expect($low)->toEqualWithDelta($wanted[0], 1e-9)->and($high)->toEqualWithDelta($wanted[1], 1e-9);
    }
});
