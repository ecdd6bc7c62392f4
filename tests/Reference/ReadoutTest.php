<?php

/*
 * The statistics of the readout against R (R Core Team, https://www.r-project.org): `prop.test`, `fisher.test`, `t.test`,
 * `mantelhaen.test`, `p.adjust`, `pt`, `pbeta`, `integrate`; and against published tables.
 */

use Pellix\Core\Statistics\Beta;
use Pellix\Core\Statistics\BetterRate;
use Pellix\Core\Statistics\Holm;
use Pellix\Core\Statistics\MantelHaenszel;
use Pellix\Core\Statistics\MeanDifference;
use Pellix\Core\Statistics\RateDifference;
use Pellix\Core\Statistics\RateRatio;
use Pellix\Core\Statistics\RatioOfMeans;
use Pellix\Core\Statistics\StratifiedRates;
use Pellix\Core\Statistics\StudentT;

it('has the intervals of Newcombe, method 10', function (int $x1, int $n1, int $x2, int $n2, string $low, string $high) {
    // R. G. Newcombe, Statistics in Medicine 17 (1998) 873-890, table II, method 10 (printed values from memory).
    $interval = RateDifference::interval($x1, $n1, $x2, $n2, 0.95);
    expect(sprintf('%.4f', $interval->low))->toBe($low)->and(sprintf('%.4f', $interval->high))->toBe($high);
})->with([
    [56, 70, 48, 80, '0.0524', '0.3339'], [9, 10, 3, 10, '0.1705', '0.8090'], [6, 7, 2, 7, '0.0582', '0.8062'], [5, 56, 0, 29, '-0.0381', '0.1926'],
    [0, 10, 0, 20, '-0.1611', '0.2775'], [0, 10, 0, 10, '-0.2775', '0.2775'], [10, 10, 0, 20, '0.6791', '1.0000'], [10, 10, 0, 10, '0.6075', '1.0000'],
]);

const RATES = [[56, 70, 48, 80], [1212, 10000, 769, 10000], [200, 2000, 245, 2000], [3, 40, 9, 38], [0, 50, 4, 61], [1, 1000, 0, 900], [9, 12, 2, 11], [450000, 1000000, 449000, 1000500], [30, 30, 20, 25]];

it('has the interval that R makes of two of its own score intervals, and the p-values of prop.test and fisher.test', function () {
    foreach (RATES as [$x1, $n1, $x2, $n2]) {
        [$low, $high, $p, $exact, $least] = r(<<<R
            w1 <- prop.test($x1, $n1, correct = FALSE)\$conf.int; w2 <- prop.test($x2, $n2, correct = FALSE)\$conf.int
            p1 <- $x1 / $n1; p2 <- $x2 / $n2; d <- p1 - p2
            m <- matrix(c($x1, $n1 - $x1, $x2, $n2 - $x2), 2)
            out(c(d - sqrt((p1 - w1[1])^2 + (w2[2] - p2)^2), d + sqrt((w1[2] - p1)^2 + (p2 - w2[1])^2)))
            out(suppressWarnings(prop.test(c($x1, $x2), c($n1, $n2), correct = FALSE))\$p.value)
            out(fisher.test(m, conf.int = FALSE)\$p.value); out(min(suppressWarnings(chisq.test(m))\$expected))
            R);
        $interval = RateDifference::interval($x1, $n1, $x2, $n2, 0.95);
        $test = RateDifference::test($x1, $n1, $x2, $n2);
        expect($interval->low)->toAgreeWith($low)->and($interval->high)->toAgreeWith($high)
            ->and($test['test'])->toBe($least < 5 ? 'fisher-exact' : 'chi-square')->and(exp($test['log_p']))->toAgreeWith($least < 5 ? $exact : $p);
    }
});

it('has Koopman’s own example of the ratio of two rates', function (int $x1, int $n1, int $x2, int $n2, float $low, float $high) {
    // P. A. R. Koopman, Biometrics 40 (1984) 513-517, the worked example (printed values from memory).
    $interval = RateRatio::koopman($x1, $n1, $x2, $n2, 0.95);
    expect(round($interval->low, 2))->toBe($low)->and(round($interval->high, 2))->toBe($high);
})->with([[36, 40, 16, 80, 2.94, 7.15]]);

it('rules out the ratios that R’s search for the likeliest rates rules out', function () {
    // The score statistic with rates found by `optimize`, not by the closed form, at the limits that were found.
    foreach (RATES as [$x1, $n1, $x2, $n2]) {
        $interval = RateRatio::koopman($x1, $n1, $x2, $n2, 0.95);
        foreach (array_filter([$interval->low, $interval->high], static fn (float $end): bool => $end > 0 && is_finite($end)) as $ratio) {
            [$statistic] = r(sprintf(<<<R
                f <- function(q) -(dbinom($x1, $n1, pmin(1, q * %1\$.17g), log = TRUE) + dbinom($x2, $n2, q, log = TRUE))
                q <- optimize(f, c(1e-12, min(1, 1 / %1\$.17g)), tol = 1e-14)\$minimum; p <- q * %1\$.17g
                out(($x1 - $n1 * p)^2 / ($n1 * p * (1 - p)) + ($x2 - $n2 * q)^2 / ($n2 * q * (1 - q)))
                R, $ratio));
            expect($statistic)->toAgreeWith(3.841458820694124, 1e-5);
        }
    }
    [$low, $high] = r('l <- log((1212 / 10000) / (769 / 10000)); h <- qnorm(0.975) * sqrt(1 / 1212 - 1e-4 + 1 / 769 - 1e-4); out(exp(c(l - h, l + h)))');
    $interval = RateRatio::interval(1212, 10000, 769, 10000, 0.95);
    expect($interval['method'])->toBe('log-ratio')->and($interval['interval']->low)->toAgreeWith($low)->and($interval['interval']->high)->toAgreeWith($high);
});

it('has the t tail of pt, from the middle to far out', function () {
    $cases = [];
    foreach ([1.0, 2.5, 5.0, 17.3, 100.0, 1234.5, 1e6] as $df) {
        foreach ([0.001, 0.7, 1.96, 5, 12, 40, 300, 1e6] as $t) {
            $cases[] = [(float) $t, $df];
        }
    }
    $wanted = r(sprintf('out(pt(c(%s), c(%s), lower.tail = FALSE, log.p = TRUE))', implode(',', array_column($cases, 0)), implode(',', array_column($cases, 1))));
    foreach ($cases as $i => [$t, $df]) {
        expect(StudentT::logUpperTail($t, $df))->toAgreeWith($wanted[$i]);
    }
    expect(StudentT::density(1.3, 4.5))->toAgreeWith(r('out(dt(1.3, 4.5))')[0]);
});

it('has the interval, the p-value and the degrees of freedom of Welch’s t.test', function () {
    [$low, $high, $p, $df] = r('t <- t.test(extra ~ group, data = sleep[c(1:8, 11:20), ]); out(c(t$conf.int, t$p.value, t$parameter))');
    [$m1, $s1, $m2, $s2] = r('a <- sleep$extra[1:8]; b <- sleep$extra[11:20]; out(c(mean(a), sd(a), mean(b), sd(b)))');
    $difference = MeanDifference::of($m1, $s1 ** 2 / 8, 8, $m2, $s2 ** 2 / 10, 10);
    expect($difference->interval(0.95)->low)->toAgreeWith($low)->and($difference->interval(0.95)->high)->toAgreeWith($high)
        ->and(exp($difference->logP()))->toAgreeWith($p)->and($difference->df)->toAgreeWith($df);
    // What the flat prior gives: the chance and the shortfall of the same t distribution, integrated by R.
    [$chance, $loss] = r(sprintf('d <- %.17g; e <- %.17g; v <- %.17g; out(pt(d / e, v)); out(integrate(function(x) pt((-x - d) / e, v), 0, Inf, rel.tol = 1e-11)$value)', $difference->difference, $difference->error, $difference->df));
    expect($difference->chance())->toAgreeWith($chance)->and($difference->shortfall())->toAgreeWith($loss, 1e-8);
});

it('has the tails of pbeta', function () {
    foreach ([[1, 1], [1.5, 0.5], [3, 40], [1213, 8789], [450001, 550001], [0.7, 3.3]] as [$a, $b]) {
        $beta = new Beta((float) $a, (float) $b);
        foreach ([-12.0, -3.0, -1.98, -0.2006, 0.0, 0.4, 5.0] as $t) {
            [$low, $high] = r(sprintf('out(pbeta(plogis(%1$.17g), %2$.17g, %3$.17g, log.p = TRUE)); out(pbeta(plogis(%1$.17g), %2$.17g, %3$.17g, lower.tail = FALSE, log.p = TRUE))', $t, $a, $b));
            [$left, $right] = $beta->logTails($t);
            expect(abs($left - $low))->toBeLessThan(1e-9 * max(1, abs($low)), "pbeta({$t}, {$a}, {$b}): {$left}, R {$low}")
                ->and(abs($right - $high))->toBeLessThan(1e-9 * max(1, abs($high)), "1 - pbeta({$t}, {$a}, {$b}): {$right}, R {$high}");
        }
    }
});

it('has the chance of being better that adding up gives, and the shortfall that R integrates', function () {
    foreach (RATES as [$x1, $n1, $x2, $n2]) {
        [$b, $a] = [Beta::after($x1, $n1), Beta::after($x2, $n2)];
        // Exact for whole parameters: P(B > A) = Σ B(a + i, b + b') / ((b + i) B(1 + i, b) B(a, b')), i from 0 to below B's first one.
        [$chance] = r(<<<R
            ab <- $x1 + 1; bb <- $n1 - $x1 + 1; aa <- $x2 + 1; ba <- $n2 - $x2 + 1; i <- 0:(ab - 1)
            out(sum(exp(lbeta(aa + i, bb + ba) - log(bb + i) - lbeta(1 + i, bb) - lbeta(aa, ba))))
            R);
        [$low, $high] = [min(1 / (1 + exp(-$a->reach()[0])), 1 / (1 + exp(-$b->reach()[0]))), max(1 / (1 + exp(-$a->reach()[1])), 1 / (1 + exp(-$b->reach()[1])))];
        [$loss] = r(<<<R
            f <- function(x) pbeta(x, $x1 + 1, $n1 - $x1 + 1) * pbeta(x, $x2 + 1, $n2 - $x2 + 1, lower.tail = FALSE)
            x <- seq($low, $high, length.out = 101)
            out(sum(sapply(1:100, function(i) integrate(f, x[i], x[i + 1], rel.tol = 1e-12)\$value)))
            R);
        expect(abs(BetterRate::chance($b, $a) - $chance))->toBeLessThan(1e-9)->and(BetterRate::shortfalls([$b, $a])[0])->toAgreeWith($loss, 1e-8);
    }
});

it('has the corrected p-values of p.adjust', function () {
    $p = [0.01, 0.04, 0.03, 0.005, 0.6, 0.04];
    $wanted = r('out(p.adjust(c('.implode(',', $p).'), "holm"))');
    foreach (array_values(Holm::adjust(array_map(log(...), $p))) as $i => $log) {
        // In the order of size; those of R are in the order in which they were given.
        expect(exp($log))->toAgreeWith(array_values((static function () use ($wanted, $p): array {
            asort($p);

            return array_map(static fn (int $place): float => $wanted[$place], array_keys($p));
        })())[$i]);
    }
});

it('joins the departments of UCBAdmissions as mantelhaen.test does, where pooling points the other way', function () {
    // R datasets; P. J. Bickel, E. A. Hammel, J. W. O'Connell, "Sex Bias in Graduate Admissions: Data from Berkeley", Science 187 (1975).
    $counts = r('out(UCBAdmissions["Admitted", , ]); out(colSums(UCBAdmissions))');
    $strata = [];
    for ($i = 0; $i < 6; $i++) {
        $strata[] = ['units' => [(int) $counts[12 + 2 * $i + 1], (int) $counts[12 + 2 * $i]], 'reached' => [(int) $counts[2 * $i + 1], (int) $counts[2 * $i]]];
    }
    $joined = new MantelHaenszel($strata);
    [$p] = r('out(mantelhaen.test(UCBAdmissions, correct = FALSE)$p.value)');
    expect(exp($joined->logP()))->toAgreeWith($p);
    // The formulas of Mantel, Haenszel and of Greenland, Robins (1985), written out in R.
    [$ratio, $error, $difference] = r(<<<'R'
        a <- UCBAdmissions["Admitted", "Female", ]; c <- UCBAdmissions["Admitted", "Male", ]
        n <- colSums(UCBAdmissions[, "Female", ]); m <- colSums(UCBAdmissions[, "Male", ]); t <- n + m
        out(sum(a * m / t) / sum(c * n / t))
        out(sqrt(sum((n * m * (a + c) - a * c * t) / t^2) / (sum(a * m / t) * sum(c * n / t))))
        out(sum((a * m - c * n) / t) / sum(n * m / t))
        R);
    expect($joined->ratio()['ratio'])->toAgreeWith($ratio)->and($joined->ratio()['log_error'])->toAgreeWith($error)->and($joined->difference()['difference'])->toAgreeWith($difference)
        ->and($difference)->toBeGreaterThan(0.0);
    $all = [array_sum(array_column(array_column($strata, 'units'), 0)), array_sum(array_column(array_column($strata, 'units'), 1))];
    $reached = [array_sum(array_column(array_column($strata, 'reached'), 0)), array_sum(array_column(array_column($strata, 'reached'), 1))];
    expect($reached[0] / $all[0] - $reached[1] / $all[1])->toBeLessThan(-0.1)->and(new StratifiedRates($strata))->not->toBeNull();
});

it('has the variance of a ratio that a bootstrap by R has', function () {
    // Sessions of one visitor hang together: R draws visitors, not sessions. 4,000 draws tell a variance to about 5 %.
    $seen = r(<<<'R'
        set.seed(7); n <- 4000; x <- 1 + rpois(n, 2); y <- rbinom(n, x, rbeta(n, 2, 8))
        out(c(mean(y), mean(x), var(y), var(x), cov(x, y), n))
        b <- replicate(4000, { i <- sample.int(n, replace = TRUE); sum(y[i]) / sum(x[i]) })
        out(var(b))
        R);
    expect(RatioOfMeans::of($seen[0], $seen[1], $seen[2], $seen[3], $seen[4], (int) $seen[5])['variance'])->toAgreeWith($seen[6], 0.08);
});
