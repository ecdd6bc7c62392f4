<?php

use Pellix\Core\Reconcile\Calendar;
use Pellix\Core\Reconcile\Difference;
use Pellix\Core\Reconcile\Evenness;
use Pellix\Core\Reconcile\InvalidOther;
use Pellix\Core\Reconcile\Presence;
use Tests\Support\AuditLogs;
use Tests\Support\OtherSources;

it('agrees with a table of the same visitors, counted the plain way', function () {
    $told = OtherSources::reconcile(OtherSources::days(0, fn () => true));
    expect($told['verdict'])->toBe('agree')->and($told['kind'])->toBe('days')->and($told['shift_hours'])->toBe(0)->and($told['even']['p'])->toBe(1.0)
        ->and(array_filter($told['days'], fn (array $day) => $day['ours'] !== $day['theirs']))->toBe([])->and(count($told['days']))->toBe(56)
        ->and($told['orders'])->toBeNull();
});

it('recognises days of another time zone', function (float $hours) {
    $told = OtherSources::reconcile(OtherSources::days($hours, fn (string $visitor) => ! OtherSources::isAmong($visitor, 2)));
    expect($told['verdict'])->toBe('agree')->and((float) $told['shift_hours'])->toBe($hours)->and($told['sentence'])->toContain('moved by');
})->with([5.0, -8.0, 5.5, 12.0]);

it('does not take what is lost for another time zone', function () {
    $told = OtherSources::reconcile(OtherSources::days(0, fn (string $visitor, string $variant, string $day) => ! OtherSources::isAmong($visitor.$day, $day < '2026-03-12' ? 5 : 20)));
    expect($told['verdict'])->toBe('differ')->and($told['shift_hours'])->toBe(0)->and($told['even']['variant'])->toBeNull();
});

it('says which variant lost more', function () {
    $told = OtherSources::reconcile(OtherSources::days(0, fn (string $visitor, string $variant) => ! OtherSources::isAmong($visitor, $variant === 'short' ? 12 : 2)));
    expect($told['verdict'])->toBe('uneven')->and($told['even']['variant'])->toBe('short')->and($told['even']['p'])->toBeLessThan(1e-6)->and($told['sentence'])->toContain('variant short');
});

it('tells visitors who are counted once from those who are counted each day', function () {
    $days = [];
    foreach (OtherSources::lines() as $line) {
        $event = json_decode($line, true);
        if ($event['name'] === 'exposure' && $event['props']['experiment'] === 'loan-steps') {
            $days[$event['visitor']] = min($days[$event['visitor']] ?? 'z', substr($event['time'], 0, 10));
        }
    }
    $csv = "Date;Users\n".implode('', array_map(fn (string $day, int $n) => date('d.m.Y', strtotime($day)).";{$n}\n", array_keys(array_count_values($days)), array_count_values($days)));
    $told = OtherSources::reconcile($csv, ['columns' => ['day' => 'Date', 'visitors' => 'Users'], 'time' => ['format' => 'd.m.Y'], 'separator' => ';']);
    expect($told['counted'])->toBe('visitors first exposed on the day')->and($told['verdict'])->toBe('agree')->and($told['days'][0]['variant'])->toBeNull();
});

it('lists orders that are missing, doubled, of another value, currency or time', function () {
    [$csv, $all] = OtherSources::orders(fn (int $i, array $order) => match (true) {
        $i % 10 === 0 => [],
        $i % 25 === 1 => [$order, $order],
        $i % 25 === 2 => [[$order[0], $order[1], (string) (1.5 + (float) $order[2]), $order[3]]],
        $i % 25 === 3 => [[$order[0], $order[1], $order[2], 'CHF']],
        $i % 25 === 4 => [[$order[0], gmdate('c', strtotime($order[1]) + 7200), $order[2], $order[3]]],
        $i === 5 => [$order, ['NEW-1', $order[1], '77.25', 'EUR']],
        default => [$order],
    });
    $orders = OtherSources::reconcile($csv)['orders'];
    $wanted = fn (int $rest) => count(array_filter(range(1, $all), fn (int $i) => $i % 10 !== 0 && $i % 25 === $rest));
    expect($orders['matched'])->toBe($all - intdiv($all, 10))->and($orders['counts']['surplus'])->toBe(intdiv($all, 10))
        ->and(array_column($orders['missing'], 'order_id'))->toBe(['NEW-1'])->and($orders['missing'][0]['value'])->toBe(77.25)
        ->and($orders['counts']['value_differs'])->toBe($wanted(2))->and($orders['value_differs'][0]['theirs'] - $orders['value_differs'][0]['ours'])->toEqualWithDelta(1.5, 1e-9)
        ->and($orders['counts']['currency_differs'])->toBe($wanted(3))->and($orders['counts']['time_differs'])->toBe($wanted(4))
        ->and(array_filter($orders['doubled'], fn (array $one) => $one['side'] === 'theirs'))->toHaveCount($wanted(1));
});

it('matches orders without ids by value and time, with a clock that is off', function () {
    [$csv, $all] = OtherSources::orders(fn (int $i, array $order) => $i % 20 === 0 ? [] : [['', gmdate('Y-m-d H:i:s', strtotime($order[1]) - 5 * 3600 + $i % 60), $order[2], $order[3]]]);
    $told = OtherSources::reconcile($csv);
    expect($told['shift_hours'])->toBe(-5)->and($told['orders']['matched'])->toBeGreaterThan(0.94 * $all)->and($told['orders']['counts']['missing'])->toBeLessThan(0.01 * $all)
        ->and($told['verdict'])->toBe('agree')->and(OtherSources::reconcile($csv, tolerance: 0.03)['verdict'])->toBe('differ');
});

it('never matches two ids of one kind, however alike the orders are', function () {
    [$csv, $all] = OtherSources::orders(fn (int $i, array $order) => [$i % 7 === 0 ? ["Z{$i}", ...array_slice($order, 1)] : $order]);
    expect(OtherSources::reconcile($csv)['orders']['counts'])->toMatchArray(['missing' => intdiv($all, 7), 'surplus' => intdiv($all, 7)]);
});

it('says where missing orders concentrate, and of which variant', function () {
    $variants = [];
    foreach (OtherSources::lines() as $line) {
        $event = json_decode($line, true);
        $event['name'] === 'exposure' && $event['props']['experiment'] === 'loan-steps' && $variants[$event['visitor']] ??= $event['props']['variant'];
        isset($event['props']['order_id']) && $visitors[$event['props']['order_id']] ??= $event['visitor'];
    }
    [$csv] = OtherSources::orders(fn (int $i, array $order) => ($variants[$visitors[$order[0]]] ?? '') === 'short' && $i % 2 === 0 ? [] : [$order]);
    $told = OtherSources::reconcile($csv);
    expect($told['verdict'])->toBe('uneven')->and($told['even']['variant'])->toBe('short');
    [$csv] = OtherSources::orders(fn (int $i, array $order) => substr($order[1], 0, 10) === '2026-03-10' ? [] : [$order]);
    expect(OtherSources::reconcile($csv)['orders']['concentrated']['surplus'][0])->toMatchArray(['dimension' => 'day', 'value' => '2026-03-10']);
});

it('says what is wrong with a file, on which line, and what to do', function (string $csv, string $line, string $words, ?array $map = null) {
    expect(fn () => OtherSources::reconcile($csv, $map))->toThrow(function (InvalidOther $e) use ($line, $words) {
        expect($e->field)->toBe($line)->and($e->getMessage())->toContain($words);
    });
})->with([
    ["a,b\n1,2\n", '1', 'neither day and visitors nor order_id'],
    ['', '1', 'no rows'],
    ["day,visitors\n2026-02-30,4\n", '2', '"2026-02-30" is no day'],
    ["day,visitors\n2026-03-02,4.5\n", '2', 'is no count'],
    ["day,visitors\n2026-03-\0,4\n", '2', 'is no day'],
    ["order_id,time\nA,2026-03-02 10:\0\n", '2', 'is no time'],
    ["day,variant,visitors\n2026-03-02,blue,4\n", '2', 'no variant "blue"; it has control, short'],
    ["order_id,time,value\nA,yesterday,1\n", '2', '"yesterday" is no time'],
    ["order_id,time,value\nA,2026-03-02T00:00:00Z,\"1,5\"\n", '2', 'decimal comma'],
    ["Tag,Leute\n1,2\n", '1', 'no column "Day"', ['columns' => ['day' => 'Day', 'visitors' => 'Leute']]],
    ["x\n", 'columns.dy', 'no such field', ['columns' => ['dy' => 'x']]],
    ["x\n", 'time.zone', 'no time zone', ['columns' => ['day' => 'x', 'visitors' => 'y'], 'time' => ['zone' => 'Mars']]],
]);

it('leaves a few bad lines out, and says so', function () {
    $csv = OtherSources::days(0, fn () => true)."oops,2026-03-04,short\n";
    $told = OtherSources::reconcile($csv);
    expect($told['skipped'])->toMatchArray(['lines' => 1])->and($told['skipped']['first'][0]['line'])->toBe(58)->and($told['sentence'])->toContain('1 line of their file was left out')->and($told['verdict'])->toBe('agree');
});

it('counts each visitor of a day once, wherever days begin', function () {
    $zone = new DateTimeZone('Europe/Berlin');
    $calendar = new Calendar($zone);
    $presence = new Presence();
    $plain = [];
    mt_srand(7);
    for ($visitor = 0; $visitor < 400; $visitor++) {
        $times = [];
        for ($i = 0; $i <= $visitor % 5; $i++) {
            // Over the night in which clocks are put forward.
            $times[] = strtotime('2026-03-27T00:00:00Z') + mt_rand(0, 5 * 86_400);
        }
        sort($times);
        $presence->add('', array_values(array_unique(array_map(fn (int $time) => Presence::slot(1000 * $time), $times))));
        foreach ([-6, 0, 11] as $ahead) {
            foreach ($times as $time) {
                $plain[$ahead][(new DateTimeImmutable('@'.($time + 1800 * $ahead)))->setTimezone($zone)->format('Y-m-d')][$visitor] = true;
            }
        }
    }
    foreach ($plain as $ahead => $days) {
        expect($presence->days('', fn (int $slot) => $calendar->day($slot, $ahead)))->toEqualCanonicalizing(array_map(count(...), $days));
    }
});

it('gives the interval of a part that was lost, on either side', function () {
    $less = Difference::of(900, 1000);
    $more = Difference::of(1000, 900);
    expect($less->part)->toEqualWithDelta(-0.1, 1e-12)->and($less->low)->toBeLessThan(-0.1)->and($less->high)->toBeGreaterThan(-0.1)->and($less->isClearlyOut(0.05))->toBeTrue()->and($less->isClearlyOut(0.09))->toBeFalse()
        ->and(1 / (1 + $more->high))->toEqualWithDelta(1 + $less->low, 1e-12)->and(Difference::of(3, 0)->part)->toBeNull();
});

it('does not call uneven what varies as much from day to day', function () {
    expect(Evenness::ofVisitors(['a' => [9700, 10_000], 'b' => [9850, 10_000]], 1.0, false)->variant)->toBe('a')
        ->and(Evenness::ofVisitors(['a' => [9700, 10_000], 'b' => [9850, 10_000]], 40.0, false)->variant)->toBeNull()
        ->and(Evenness::ofVisitors(['a' => [10, 10]], 1.0, false)->test)->toBeNull();
});

it('reads our days in the time zone of the site', function () {
    $experiment = AuditLogs::settings(visitors: 4000)->experiment();
    $experiment['audit']['time_zone'] = 'Asia/Tokyo';
    $told = OtherSources::reconcile(OtherSources::days(9, fn () => true), setup: AuditLogs::setup($experiment));
    expect($told['shift_hours'])->toBe(0)->and(array_filter($told['days'], fn (array $day) => $day['ours'] !== $day['theirs']))->toBe([]);
});

it('holds the hits of a goal against another source, day by day', function () {
    $told = OtherSources::reconcile(OtherSources::hits('/loan/done', fn () => 1.0), goal: 'loan-noted');
    expect($told['verdict'])->toBe('agree')->and($told['goal'])->toBe('loan-noted')->and($told['counted'])->toBe('hits of the goal on the day')
        ->and(array_filter($told['days'], fn (array $day) => $day['ours'] !== $day['theirs']))->toBe([])->and(array_sum(array_column($told['totals'], 'ours')))->toBeGreaterThan(300)
        ->and($told['sentence'])->toContain('hits of goal loan-noted');
    $less = OtherSources::reconcile(OtherSources::hits('/loan/done', fn (string $variant) => $variant === 'short' ? 0.6 : 1.0), goal: 'loan-noted');
    expect($less['verdict'])->toBe('uneven')->and($less['even']['variant'])->toBe('short');
});
