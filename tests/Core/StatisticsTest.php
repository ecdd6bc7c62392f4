<?php

use Eris\Generator;
use Pellix\Core\Statistics\ChiSquare;
use Pellix\Core\Statistics\ExactBinomial;
use Pellix\Core\Statistics\ExactMultinomial;
use Pellix\Core\Statistics\InvalidCounts;
use Pellix\Core\Statistics\PoissonTerm;
use Pellix\Core\Statistics\SampleRatio;

it('refuses what no sample ratio can be tested with', function (array $counts, array $weights, string $complaint) {
    expect(complaint(fn () => SampleRatio::test($counts, $weights)))->toStartWith($complaint);
})->with([
    'a negative count' => [[-1, 5], [1, 1], 'counts.0:'],
    'half a visitor' => [[1, 5.5], [1, 1], 'counts.1:'],
    'a count in words' => [['1', 5], [1, 1], 'counts.0:'],
    'a count beyond exact doubles' => [[PHP_INT_MAX, 5], [1, 1], 'counts.0:'],
    'one variant' => [[5], [1], 'counts:'],
    'nobody' => [[0, 0], [1, 1], 'counts: All counts are zero'],
    'weights that sum to zero' => [[1, 5], [0, 0], 'weights: The weights need a positive sum'],
    'a negative weight' => [[1, 5], [1, -1], 'weights.1:'],
    'a weight that is no number' => [[1, 5], [1, NAN], 'weights.1:'],
    'too few weights' => [[1, 5, 2], [1, 1], 'weights: There are 3 counts but 2 weights'],
    'one weight above zero' => [[5, 0], [1, 0], 'weights: At least two'],
]);

it('refuses an alarm level that is none', function (float $alpha) {
    expect(complaint(fn () => SampleRatio::test([1, 5], [1, 1], $alpha)))->toStartWith('alpha:');
})->with([0.0, 1.0, -0.1, NAN]);

it('chooses the test by the smallest expected count', function (array $counts, array $weights, string $test) {
    expect(SampleRatio::test($counts, $weights)->test)->toBe($test);
})->with([
    [[5, 5], [1, 1], 'chi-square'],
    [[4, 5], [1, 1], 'exact-binomial'],
    [[20, 20, 1], [50, 50, 1], 'exact-multinomial'],
    [[4000, 4100, 3], [5000, 5000, 1], 'chi-square-pooled'],
    [[10, 1], [1, 0], 'zero-weight'],
]);

it('alarms when somebody saw a variant without weight, whatever the counts', function () {
    $result = SampleRatio::test([500, 500, 1], [1, 1, 0]);
    expect($result->isMismatch())->toBeTrue()->and($result->p)->toBe(0.0)->and($result->toArray()['log_p'])->toBeNull();
});

it('leaves a variant without weight and visitors out', function () {
    expect(SampleRatio::test([500, 450, 0], [1, 1, 0])->logP)->toBe(SampleRatio::test([500, 450], [1, 1])->logP);
});

it('finds perfect agreement unremarkable', function () {
    expect(SampleRatio::test([300, 300, 300], [1, 1, 1])->p)->toBe(1.0)
        ->and(SampleRatio::test([2, 2], [1, 1])->p)->toBe(1.0);
});

it('knows from how many visitors on a lost variant would show', function () {
    // With all n visitors in one of two equal variants the exact p is 2 (1/2)^n until n = 9, and chi-square's beyond.
    expect(SampleRatio::canAlarm(0, [1, 1]))->toBeFalse()
        ->and(SampleRatio::canAlarm(10, [1, 1]))->toBeFalse()
        ->and(SampleRatio::canAlarm(11, [1, 1]))->toBeTrue()
        ->and(SampleRatio::canAlarm(40, [90, 10]))->toBeFalse()
        ->and(SampleRatio::canAlarm(400, [90, 10]))->toBeTrue()
        ->and(SampleRatio::canAlarm(50, [1, 1, 0]))->toBeTrue();
});

it('does not care about the scale of the weights or the order of the variants', function () {
    $this->limitTo(60)->forAll(Generator\choose(0, 400), Generator\choose(0, 400), Generator\choose(1, 90), Generator\choose(1, 50))
        ->when(fn ($a, $b) => $a + $b > 0)
        ->then(function (int $a, int $b, int $weight, int $scale) {
            $p = SampleRatio::test([$a, $b], [$weight, 100 - $weight])->logP;
            expect(SampleRatio::test([$b, $a], [(100 - $weight) * $scale, $weight * $scale])->logP)->toEqualWithDelta($p, 1e-9 + 1e-9 * abs($p));
        });
});

it('gives p-values between 0 and 1 that fall as the statistic grows', function () {
    $this->limitTo(300)->forAll(Generator\choose(0, 4_000_000), Generator\choose(1, 40))->then(function (int $thousandths, int $df) {
        $x = $thousandths / 1000;
        $here = ChiSquare::logUpperTail($x, $df);
        expect($here)->toBeLessThanOrEqual(0.0)->and(ChiSquare::logUpperTail($x + 0.5, $df))->toBeLessThan($here + 1e-12);
    });
});

it('has exact tests that agree where both apply', function () {
    $this->limitTo(150)->forAll(Generator\choose(0, 60), Generator\choose(0, 60), Generator\choose(1, 99))->when(fn ($a, $b) => $a + $b > 0)
        ->then(function (int $a, int $b, int $weight) {
            $n = $a + $b;
            $p = $weight / 100;
            expect(ExactMultinomial::logP([$a, $b], [$n * $p, $n * (1 - $p)]))->toEqualWithDelta(ExactBinomial::logP($a, $n, $p), 1e-9);
        });
});

it('has Poisson terms that sum to one', function (float $mean) {
    $sum = 0.0;
    for ($k = 0; $k < 400; $k++) {
        $sum += exp(PoissonTerm::log((float) $k, $mean));
    }
    expect($sum)->toAgreeWith(1.0, 1e-12);
})->with([0.01, 1.0, 7.5, 40.0, 150.0]);

it('counts outcomes', function () {
    expect(ExactMultinomial::outcomes(3, 2))->toBe(4.0)->and(ExactMultinomial::outcomes(4, 3))->toBe(15.0);
});

it('knows the smallest loss that would show, by the test itself', function (int $visitors, array $weights) {
    $loss = SampleRatio::smallestLoss($visitors, $weights);
    $shows = function (float $part) use ($visitors, $weights): bool {
        $left = $weights;
        $left[array_search(min($weights), $weights, true)] *= 1 - $part;

        return SampleRatio::test(array_map(fn (float $one): int => (int) round($visitors * $one / array_sum($left)), $left), $weights)->isMismatch();
    };
    $loss === null ? expect($shows(1.0))->toBeFalse() : expect($shows($loss))->toBeTrue()->and($shows($loss - 0.01))->toBeFalse();
})->with([[8, [1, 1]], [30, [1, 1]], [100, [1, 1]], [1000, [1, 1]], [100_000, [1, 1]], [300, [90, 10]], [5000, [40, 40, 20]], [12, [9, 1]]]);

it('tests no ratio where there is none, and alarms where somebody is in what nobody could be given', function (array $counts, array $weights, bool $isTestable) {
    expect(SampleRatio::isTestable($counts, $weights))->toBe($isTestable);
    $isTestable ? expect(SampleRatio::test($counts, $weights)->p)->toBeLessThanOrEqual(1.0) : expect(fn () => SampleRatio::test($counts, $weights))->toThrow(InvalidCounts::class);
    expect(SampleRatio::canAlarm(array_sum($counts), $weights))->toBe($isTestable && count(array_filter($weights)) > 1 && array_sum($counts) > 20)
        ->and(SampleRatio::smallestLoss(array_sum($counts), $weights) === null)->toBe(! SampleRatio::canAlarm(array_sum($counts), $weights));
})->with([
    [[0, 50], [0, 100], false], [[5, 50], [0, 100], true], [[50, 50], [50, 50], true], [[0, 0], [50, 50], false], [[2, 3], [50, 50], true], [[0, 9, 0], [0, 1, 0], false], [[40, 41, 0], [1, 1, 0], true],
]);
