<?php

/*
 * How often intervals hold the truth, by simulation: 94 to 96 % of the 95 % intervals of 10,000 made-up experiments should. That many are
 * made with PELLIX_COVERAGE=10000 in the environment; else 1,000, and four standard errors of so many are allowed beyond. The draws follow
 * from a seed.
 */

use Pellix\Core\Readout\Comparing;
use Pellix\Core\Readout\Look;
use Pellix\Core\Readout\Measure;
use Pellix\Core\Readout\Reduced;
use Pellix\Core\Readout\Sample;
use Pellix\Core\Statistics\Anytime;
use Pellix\Core\Statistics\Bootstrap;
use Pellix\Core\Statistics\RateDifference;
use Pellix\Core\Statistics\RateRatio;

define('RUNS', max(1000, (int) getenv('PELLIX_COVERAGE')));

/** How far the part that is seen may be from the one that is there, by chance. */
define('CHANCE', RUNS >= 10_000 ? 0.0 : 4 * sqrt(0.05 * 0.95 / RUNS) - 0.01);

/** Draws that follow from a seed. */
final class Draws
{
    private readonly Random\Randomizer $chance;

    public function __construct(int $seed)
    {
        $this->chance = new Random\Randomizer(new Random\Engine\Xoshiro256StarStar($seed));
    }

    public function uniform(): float
    {
        return ($this->chance->getInt(0, (1 << 53) - 1) + 1) / (1 << 53);
    }

    public function normal(): float
    {
        return sqrt(-2 * log($this->uniform())) * cos(2 * M_PI * $this->uniform());
    }

    public function binomial(int $n, float $p): int
    {
        if ($n * $p * (1 - $p) > 900) {
            return max(0, min($n, (int) round($n * $p + sqrt($n * $p * (1 - $p)) * $this->normal())));
        }
        // By the gaps between successes, which are geometric.
        $log = log1p(-$p);
        for ($x = 0, $at = 0; ; $x++) {
            $at += 1 + (int) floor(log($this->uniform()) / $log);
            if ($at > $n) {
                return $x;
            }
        }
    }
}

/** @param callable(Draws): bool $covers one run */
function coverage(callable $covers, int $runs = RUNS): float
{
    $draws = new Draws(20_260_302);
    for ($i = $held = 0; $i < $runs; $i++) {
        $held += $covers($draws) ? 1 : 0;
    }

    return $held / $runs;
}

/** @param list<list<float>> $units y, sessions, and y before, of each */
function sampled(Measure $measure, array $units): Sample
{
    $sum = static fn (callable $of): float => array_sum(array_map($of, $units));

    return Sample::of($measure, [count($units), $sum(static fn (array $u): float => $u[1]), $sum(static fn (array $u): float => $u[1] ** 2)], [
        0, 0, $sum(static fn (array $u): float => $u[0]), $sum(static fn (array $u): float => $u[0] ** 2), 0.0, $sum(static fn (array $u): float => $u[0] * $u[1]),
        $sum(static fn (array $u): float => $u[2]), $sum(static fn (array $u): float => $u[2] ** 2), $sum(static fn (array $u): float => $u[0] * $u[2]), 0,
    ]);
}

it('covers the difference of two rates', function (int $n1, float $p1, int $n2, float $p2) {
    expect(coverage(static fn (Draws $d): bool => RateDifference::interval($d->binomial($n1, $p1), $n1, $d->binomial($n2, $p2), $n2, 0.95)->has($p1 - $p2)))->toBeBetween(0.94 - CHANCE, 0.96 + CHANCE);
})->with([[2000, 0.12, 2000, 0.077], [400, 0.5, 300, 0.45], [5000, 0.02, 1000, 0.02]]);

it('covers the ratio of two rates, where counts are large and where they are small', function (int $n1, float $p1, int $n2, float $p2) {
    expect(coverage(static function (Draws $d) use ($n1, $p1, $n2, $p2): bool {
        $control = max(1, $d->binomial($n2, $p2));

        return RateRatio::interval($d->binomial($n1, $p1), $n1, $control, $n2, 0.95)['interval']->has($p1 / $p2);
    }))->toBeBetween(0.94 - CHANCE, 0.96 + CHANCE);
})->with([[2000, 0.12, 2000, 0.08], [300, 0.06, 300, 0.05]]);

it('covers the difference of rates that three epochs with other weights and other rates are joined to', function () {
    // Newer weights for the better season: adding up would be wrong by far.
    $epochs = [[900, 1500, 0.05], [700, 700, 0.10], [2400, 600, 0.20]];
    expect(coverage(static function (Draws $d) use ($epochs): bool {
        $variant = $control = [];
        foreach ($epochs as $i => [$n, $m, $p]) {
            $variant[$i] = Sample::ofCounts($n, $d->binomial($n, $p + 0.02));
            $control[$i] = Sample::ofCounts($m, $d->binomial($m, $p));
        }

        return Comparing::of(Measure::Rate, $variant, $control, 0.95)->planned()->interval->has(0.02);
    }))->toBeBetween(0.94 - CHANCE, 0.96 + CHANCE);
});

it('covers the difference of skew means, alone and joined over epochs', function () {
    // Most bring nothing, the others a lognormal amount: mean of it exp(1 + 0.5 · 0.64).
    $draw = static function (Draws $d, int $n, float $p): Sample {
        $units = [];
        for ($i = 0; $i < $n; $i++) {
            $units[] = [$d->uniform() < $p ? exp(1 + 0.8 * $d->normal()) : 0.0, 1.0, 0.0];
        }

        return sampled(Measure::Mean, $units);
    };
    $mean = exp(1 + 0.5 * 0.64);
    expect(coverage(static fn (Draws $d): bool => Comparing::of(Measure::Mean, [$draw($d, 300, 0.4)], [$draw($d, 250, 0.3)], 0.95)->planned()->interval->has(0.1 * $mean)))->toBeBetween(0.94 - CHANCE, 0.96 + CHANCE)
        ->and(coverage(static fn (Draws $d): bool => Comparing::of(Measure::Mean, [$draw($d, 300, 0.4), $draw($d, 400, 0.6)], [$draw($d, 250, 0.3), $draw($d, 200, 0.5)], 0.95)->planned()->interval->has(0.1 * $mean)))->toBeBetween(0.94 - CHANCE, 0.96 + CHANCE);
});

it('covers a ratio per session whose sessions hang together by visitor', function () {
    $draw = static function (Draws $d, int $n, float $rate): Sample {
        $units = [];
        for ($i = 0; $i < $n; $i++) {
            $sessions = 1 + (int) floor(-2 * log($d->uniform()));
            // Some visitors do it in most of their sessions, others in next to none.
            $own = $d->uniform() < 0.5 ? 1.6 * $rate : 0.4 * $rate;
            $units[] = [(float) $d->binomial($sessions, $own), (float) $sessions, 0.0];
        }

        return sampled(Measure::Ratio, $units);
    };
    expect(coverage(static fn (Draws $d): bool => Comparing::of(Measure::Ratio, [$draw($d, 400, 0.35)], [$draw($d, 400, 0.30)], 0.95)->planned()->interval->has(0.05)))->toBeBetween(0.94 - CHANCE, 0.96 + CHANCE);
});

it('covers with what visitors did before taken off, by a narrower interval', function () {
    $look = Look::ofTable();
    $draw = static function (Draws $d, int $n, float $shift): Sample {
        $units = [];
        for ($i = 0; $i < $n; $i++) {
            $own = $d->normal();
            $units[] = [5 + $shift + 0.8 * $own + 0.6 * $d->normal(), 1.0, 5 + $own];
        }

        return sampled(Measure::Mean, $units);
    };
    $narrower = [];
    expect(coverage(static function (Draws $d) use ($draw, $look, &$narrower): bool {
        $samples = [[$draw($d, 200, 0.3)], [$draw($d, 200, 0.0)]];
        $reduced = Reduced::estimate(Reduced::theta($samples), ...[...$samples, $look, null]);
        $narrower[] = $reduced->error / Comparing::of(Measure::Mean, ...[...$samples, 0.95])->planned()->error;

        return $reduced->interval->has(0.3);
    }))->toBeBetween(0.94 - CHANCE, 0.96 + CHANCE)
        // 0.8² of the variance is known before: what is left is 0.6 of the error.
        ->and(array_sum($narrower) / count($narrower))->toBeBetween(0.58, 0.63);
});

it('covers at all looks at once, rates and means, from the first visitors on', function (float $p, float $lift) {
    // A look after each of 60 steps, up to far beyond the planned end; five visitors without a hit in an epoch of their own.
    expect(coverage(static function (Draws $d) use ($p, $lift): bool {
        $n = $a = $b = 0;
        for ($look = 0; $look < 60; $look++) {
            $more = max(5, (int) round(0.12 * $n));
            $n += $more;
            $a += $d->binomial($more, $p + $lift);
            $b += $d->binomial($more, $p);
            if (! Comparing::of(Measure::Rate, [Sample::ofCounts($n, $a), Sample::ofCounts(5, 0)], [Sample::ofCounts($n, $b), Sample::ofCounts(5, 0)], 0.95)->anytime(4000)->interval->has($lift * $n / ($n + 5))) {
                return false;
            }
        }

        return true;
    }))->toBeGreaterThan(0.95);
})->with([[0.02, 0.0], [0.1, 0.03], [0.5, 0.0]]);

it('covers at all looks at once where values are skew', function () {
    $mean = exp(1 + 0.5 * 0.64);
    expect(coverage(static function (Draws $d) use ($mean): bool {
        $sequence = null;
        $n = 0;
        $sums = [[0.0, 0.0], [0.0, 0.0]];
        for ($look = 0; $look < 40; $look++) {
            $more = max(40, (int) round(0.12 * $n));
            $n += $more;
            foreach ([0.4, 0.3] as $i => $p) {
                for ($k = 0; $k < $more; $k++) {
                    $value = $d->uniform() < $p ? exp(1 + 0.8 * $d->normal()) : 0.0;
                    $sums[$i] = [$sums[$i][0] + $value, $sums[$i][1] + $value ** 2];
                }
            }
            $samples = array_map(static fn (array $s): array => [Sample::ofMean($n, $s[0] / $n, sqrt(($s[1] - $s[0] ** 2 / $n) / ($n - 1)))], $sums);
            if (! Comparing::of(Measure::Mean, ...[...$samples, 0.95])->anytime(4000)->interval->has(0.1 * $mean)) {
                return false;
            }
        }

        return true;
    }, intdiv(RUNS, 20)))->toBeGreaterThan(0.94);
});

it('would be fooled by looks that nobody planned, which the sequence is not', function () {
    // The same walk, looked at 100 times: the planned interval calls a difference that is not there far more often than 5 %.
    $fooled = ['planned' => 0, 'anytime' => 0];
    $draws = new Draws(11);
    for ($run = 0; $run < 2000; $run++) {
        $sequence = Anytime::for(100.0, 0.95);
        $sum = 0.0;
        $is = ['planned' => false, 'anytime' => false];
        for ($i = 1; $i <= 100; $i++) {
            $sum += $draws->normal();
            $is['planned'] = $is['planned'] || abs($sum / sqrt($i)) > 1.959964;
            $is['anytime'] = $is['anytime'] || ! $sequence->interval($sum / $i, 1 / sqrt($i))->has(0.0);
        }
        foreach ($is as $which => $was) {
            $fooled[$which] += $was ? 1 : 0;
        }
    }
    expect($fooled['planned'] / 2000)->toBeGreaterThan(0.3)->and($fooled['anytime'] / 2000)->toBeLessThan(0.05);
});

it('has a p-value that is under the error just where 0 is out of the interval', function () {
    foreach ([[0.021, 0.01], [0.034, 0.01], [0.036, 0.01], [0.5, 0.1], [0.02, 0.02]] as [$difference, $error]) {
        $sequence = Anytime::for(5000.0, 0.95);
        expect($sequence->logP($difference, $error) < log(0.05))->toBe(! $sequence->interval($difference, $error)->has(0.0));
    }
});

it('has a bootstrap that agrees with Welch where values are tame', function () {
    $values = [[700, 0.0], [200, 5.0], [100, 10.0]];
    $other = [[750, 0.0], [180, 5.0], [70, 10.0]];
    $sample = static function (array $values): Sample {
        $n = array_sum(array_column($values, 0));
        $y = array_sum(array_map(static fn (array $v): float => $v[0] * $v[1], $values));
        $yy = array_sum(array_map(static fn (array $v): float => $v[0] * $v[1] ** 2, $values));

        return Sample::ofMean($n, $y / $n, sqrt(($yy - $y ** 2 / $n) / ($n - 1)));
    };
    $welch = Comparing::of(Measure::Mean, [$sample($values)], [$sample($other)], 0.95)->planned()->interval;
    $bootstrap = Bootstrap::interval($values, $other, 0.95);
    expect(abs($bootstrap->low - $welch->low))->toBeLessThan(0.03)->and(abs($bootstrap->high - $welch->high))->toBeLessThan(0.03)
        ->and(Bootstrap::interval($values, $other, 0.95))->toEqual($bootstrap);
});
