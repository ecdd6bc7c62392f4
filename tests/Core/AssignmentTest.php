<?php

use Eris\Generator;
use Pellix\Core\Assignment\Assigner;
use Pellix\Core\Assignment\Group;
use Pellix\Core\Assignment\InvalidAssignment;
use Pellix\Core\Assignment\UnitInterval;
use Pellix\Core\Assignment\Variant;
use Pellix\Core\Assignment\Variants;
use Pellix\Core\Statistics\ChiSquare;
use Pellix\Core\Statistics\SampleRatio;

/** @param array<string, int|float> $weights */
function assigner(string $salt, float $share, array $weights): Assigner
{
    return new Assigner($salt, $share, Variants::of(array_map(Variant::of(...), array_keys($weights), array_values($weights))));
}

it('hashes as published', function (string $text, int $seed, string $hash) {
    expect(hash('murmur3a', $text, false, ['seed' => $seed]))->toBe($hash);
    if ($seed === 0) {
        expect(UnitInterval::place($text))->toBe((float) (hexdec($hash) / 2 ** 32));
    }
})->with(vectors('murmur3')['vectors']);

it('assigns as the independent implementation does', function (array $case) {
    $assigner = new Assigner($case['salt'], $case['share'], Variants::of(array_map(static fn (array $v): Variant => Variant::of(...$v), $case['variants'])), isset($case['group']) ? new Group(...$case['group']) : null);
    foreach ($case['units'] as $wanted) {
        $got = $assigner->assign($wanted['unit']);
        expect([$got->in, $got->variant, $got->bucket])->toBe([$wanted['in'], $wanted['variant'], $wanted['bucket']], "unit {$wanted['unit']}");
    }
})->with(array_map(static fn (array $case): array => [$case], vectors('assignment')));

it('follows the weights and the share within sampling error', function () {
    $this->limitTo(25)->forAll(
        Generator\choose(0, 1_000_000_000),
        Generator\choose(1, 99),
        Generator\elements([0.1, 0.5, 0.9, 1.0]),
    )->then(function (int $salt, int $weight, float $share) {
        $assigner = assigner("s{$salt}", $share, ['a' => $weight, 'b' => 100 - $weight]);
        $counts = ['a' => 0, 'b' => 0, '' => 0];
        for ($i = 0; $i < 4000; $i++) {
            $counts[(string) $assigner->assign("visitor-{$i}")->variant]++;
        }
        $entered = $counts['a'] + $counts['b'];
        // One chance in a million of a false alarm per trial.
        expect(SampleRatio::test([$counts['a'], $counts['b']], [$weight, 100 - $weight], 1e-6)->isMismatch())->toBeFalse();
        if ($share < 1) {
            expect(SampleRatio::test([$entered, $counts['']], [$share, 1 - $share], 1e-6)->isMismatch())->toBeFalse();
        } else {
            expect($counts[''])->toBe(0);
        }
    });
});

it('assigns independently of any other experiment', function () {
    $this->limitTo(15)->forAll(Generator\choose(0, 1_000_000_000), Generator\choose(0, 1_000_000_000))->when(fn ($a, $b) => $a !== $b)
        ->then(function (int $one, int $other) {
            $first = assigner("s{$one}", 1, ['a' => 1, 'b' => 1]);
            $second = assigner("s{$other}", 1, ['a' => 2, 'b' => 1, 'c' => 1]);
            $cells = [];
            for ($i = 0; $i < 4000; $i++) {
                $cells[$first->assign("v{$i}")->variant][$second->assign("v{$i}")->variant] = ($cells[$first->assign("v{$i}")->variant][$second->assign("v{$i}")->variant] ?? 0) + 1;
            }
            // Pearson's test of independence; two rows and three columns leave two degrees of freedom.
            $statistic = 0;
            foreach ($cells as $row) {
                foreach ($row as $column => $count) {
                    $expected = array_sum($row) * array_sum(array_column($cells, $column)) / 4000;
                    $statistic += ($count - $expected) ** 2 / $expected;
                }
            }
            expect(ChiSquare::logUpperTail($statistic, 2))->toBeGreaterThan(log(1e-6));
        });
});

it('never moves a visitor to another variant when the share grows', function () {
    $this->limitTo(200)->forAll(Generator\string(), Generator\choose(0, 100), Generator\choose(0, 100))
        ->then(function (string $unit, int $a, int $b) {
            $weights = ['control' => 40, 'b' => 40, 'c' => 20];
            $small = assigner('salt', min($a, $b) / 100, $weights)->assign($unit);
            $large = assigner('salt', max($a, $b) / 100, $weights)->assign($unit);
            expect($small->bucket)->toBe($large->bucket);
            if ($small->in) {
                expect($large->in)->toBeTrue()->and($large->variant)->toBe($small->variant);
            }
        });
});

it('refuses what nobody could be assigned with', function (callable $make, string $complaint) {
    expect(complaint($make))->toStartWith($complaint);
})->with([
    'no salt' => [fn () => assigner('', 1, ['a' => 1, 'b' => 1]), 'salt:'],
    'a share over 1' => [fn () => assigner('s', 1.01, ['a' => 1, 'b' => 1]), 'share:'],
    'a share that is no number' => [fn () => assigner('s', NAN, ['a' => 1, 'b' => 1]), 'share:'],
    'one variant' => [fn () => assigner('s', 1, ['a' => 1]), ': An experiment has at least two variants.'],
    'a negative weight' => [fn () => assigner('s', 1, ['a' => 1, 'b' => -1]), 'weight:'],
    'an infinite weight' => [fn () => assigner('s', 1, ['a' => 1, 'b' => INF]), 'weight:'],
    'no weight at all' => [fn () => assigner('s', 1, ['a' => 0, 'b' => 0]), ': The weights need a positive sum.'],
    'a key twice' => [fn () => Variants::of([Variant::of('a', 1), Variant::of('a', 1)]), '1.key:'],
    'two controls' => [fn () => Variants::of([Variant::of('a', 1, true), Variant::of('b', 1, true)]), '1.control:'],
    'a key with a space' => [fn () => Variant::of('a b', 1), 'key:'],
]);

it('decides at the very edge of a stretch as the fractions do', function () {
    $this->limitTo(300)->forAll(Generator\choose(1, 1000), Generator\choose(1, 1000), Generator\int())->then(function (int $a, int $b, int $unit) {
        // A weight that puts the edge exactly on this unit's hash: the hash itself is not below it.
        $h = UnitInterval::place("s:variant:{$unit}");
        $on = assigner('s', 1, ['a' => $h, 'b' => 1 - $h]);
        expect($on->variantOf((string) $unit))->toBe($h / ($h + (1 - $h)) > $h ? 'a' : 'b');
        $share = UnitInterval::place("s:share:{$unit}");
        expect(assigner('s', $share, ['a' => $a, 'b' => $b])->variantOf((string) $unit))->toBeNull()
            ->and(assigner('s', min(1, $share + 2 ** -32), ['a' => $a, 'b' => $b])->variantOf((string) $unit))->not->toBeNull();
    });
});

it('never lets a visitor into two members of a group, and gives each its share', function () {
    $shares = [0.3, 0.4, 0.2];
    $members = [];
    $from = 0.0;
    foreach ($shares as $i => $share) {
        $members[] = new Assigner("member-{$i}", $share, Variants::of([Variant::of('a', 40), Variant::of('b', 60)]), new Group('checkout', $from));
        $from += $share;
    }
    $alone = new Assigner('alone', 0.5, Variants::of([Variant::of('a', 1), Variant::of('b', 1)]));
    $entered = [0, 0, 0, 0];
    $variants = array_fill(0, 3, ['a' => 0, 'b' => 0]);
    $cells = array_fill(0, 4, [0, 0]);
    for ($i = 0; $i < 50_000; $i++) {
        $in = array_filter(array_map(static fn (Assigner $one): ?string => $one->variantOf("visitor-{$i}"), $members), static fn (?string $variant): bool => $variant !== null);
        expect(count($in))->toBeLessThan(2);
        $member = array_key_first($in) ?? 3;
        $entered[$member]++;
        $member < 3 && $variants[$member][$in[$member]]++;
        $cells[$member][$alone->variantOf("visitor-{$i}") === null ? 0 : 1]++;
    }
    // A fixed seed, so to speak: these fifty thousand ids are always the same. One false alarm in a million.
    expect(SampleRatio::test($entered, [...$shares, 0.1], 1e-6)->isMismatch())->toBeFalse();
    foreach ($variants as $counts) {
        expect(SampleRatio::test(array_values($counts), [40, 60], 1e-6)->isMismatch())->toBeFalse();
    }
    // Outside of the group it is as if there were none.
    foreach ($cells as $counts) {
        expect(SampleRatio::test($counts, [1, 1], 1e-6)->isMismatch())->toBeFalse();
    }
});

it('finds a stretch that is free, where it was before if it may, and none where there is no room', function (array $taken, float $share, ?float $wanted, ?float $from) {
    expect(Group::room($taken, $share, $wanted))->toBe($from);
})->with([
    [[], 1.0, null, 0.0], [[[0.0, 0.5]], 0.5, null, 0.5], [[[0.0, 0.5]], 0.6, null, null], [[[0.5, 0.5]], 0.5, null, 0.0], [[[0.2, 0.2], [0.6, 0.2]], 0.2, null, 0.0],
    [[[0.0, 0.2], [0.6, 0.2]], 0.4, null, 0.2], [[[0.0, 0.1], [0.1, 0.2]], 0.7, null, 0.1 + 0.2], [[[0.0, 0.2]], 0.1, 0.5, 0.5], [[[0.0, 0.2]], 0.1, 0.15, 0.2], [[[0.4, 0.2]], 0.5, 0.3, null],
    [[[0.0, 0.1], [0.1, 0.1], [0.2, 0.1], [0.30000000000000004, 0.1], [0.4, 0.1], [0.5, 0.1], [0.6, 0.1], [0.7, 0.1], [0.7999999999999999, 0.1]], 0.1, null, 0.8999999999999999],
]);

it('refuses a group that is none', function (string $key, ?float $from) {
    expect(fn () => new Group($key, $from))->toThrow(InvalidAssignment::class);
})->with([['', null], ['Big Group', null], ['a', -0.1], ['a', 1.0], ['a', NAN]]);
