<?php

use Pellix\Core\Statistics\ChiSquare;
use Pellix\Core\Statistics\SampleRatio;

it('finds the sample ratio mismatch of the published worked example', function () {
    // R. Kohavi, D. Tang, Y. Xu, "Trustworthy Online Controlled Experiments" (2020), chapter 3: 821,588 against 815,482
    // visitors at 50/50 give p = 1.8e-6.
    $result = SampleRatio::test([821588, 815482], [50, 50]);
    expect(sprintf('%.1e', $result->p))->toBe('1.8e-6')->and($result->isMismatch())->toBeTrue();
});

it('has the critical values of the handbook', function (int $df, float $level, float $critical) {
    // NIST/SEMATECH e-Handbook of Statistical Methods, 1.3.6.7.4, upper critical values, given to three decimals: the
    // level lies between the tails of the values that round to the one in the table.
    expect(exp(ChiSquare::logUpperTail($critical - 0.0005, $df)))->toBeGreaterThanOrEqual($level)
        ->and(exp(ChiSquare::logUpperTail($critical + 0.0005, $df)))->toBeLessThanOrEqual($level);
})->with([
    [1, 0.10, 2.706], [1, 0.05, 3.841], [1, 0.01, 6.635], [1, 0.001, 10.828],
    [2, 0.05, 5.991], [2, 0.001, 13.816], [5, 0.05, 11.070], [5, 0.01, 15.086],
    [10, 0.05, 18.307], [10, 0.001, 29.588], [50, 0.05, 67.505], [100, 0.05, 124.342],
]);
