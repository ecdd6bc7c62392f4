<?php

use App\Cli\ReadoutCommand;
use Pellix\Core\Experiments\DecisionRule;
use Pellix\Core\Experiments\Experiment;
use Pellix\Core\Experiments\InvalidExperiment;
use Pellix\Core\Goals\Goal;
use Pellix\Core\Readout\Amounts;
use Pellix\Core\Readout\Comparison;
use Pellix\Core\Readout\Gate;
use Pellix\Core\Readout\Item;
use Pellix\Core\Readout\Look;
use Pellix\Core\Readout\Proposal;
use Pellix\Core\Readout\Readout;
use Pellix\Core\Readout\Sample;
use Pellix\Core\Readout\Sentence;
use Pellix\Core\Readout\Subject;
use Pellix\Core\Readout\Table;
use Pellix\Core\Readout\Totaller;
use Pellix\Core\Readout\UnitTotals;
use Tests\Support\AuditLogs;

/** @return array{int, array<string, mixed>|null, string} exit code, JSON, what was said of errors */
function readoutOf(array $arguments, string $in = ''): array
{
    [$stdin, $out, $err] = [fopen('php://memory', 'w+'), fopen('php://memory', 'w+'), fopen('php://memory', 'w+')];
    fwrite($stdin, $in);
    rewind($stdin);
    $exit = ReadoutCommand::run([...$arguments, '--json'], $stdin, $out, $err);
    rewind($out);
    rewind($err);

    return [$exit, json_decode((string) stream_get_contents($out), true), (string) stream_get_contents($err)];
}

function countsOf(string $csv, string ...$options): array
{
    [$exit, $report, $error] = readoutOf(['--counts=-', ...$options], $csv);
    expect($error)->toBe('')->and($exit)->toBeLessThan(2);

    return $report;
}

/** An experiment of two variants, with what is declared besides. */
function declaredForReadout(array $more = []): Experiment
{
    return Experiment::read([
        'pellix' => 1, 'key' => 'e', 'salt' => 's', 'variants' => [['key' => 'control', 'name' => 'As it is', 'weight' => 1, 'control' => true], ['key' => 'b', 'name' => 'Names it', 'weight' => 1]],
        'start' => '2026-03-02T00:00:00Z', 'end' => '2026-03-30T00:00:00Z', 'goals' => [['key' => 'joined', 'name' => 'Joined', 'kind' => 'event', 'event' => 'joined', 'count' => 'visitor']], ...$more,
    ]);
}

/** What so many of each variant come to in the goals of an experiment: key of the goal => reached of each. */
function readoutOfNumbers(Experiment $experiment, array $n, array $reached, string $at = '2026-04-01', ?Gate $gate = null): Readout
{
    $subject = new Subject($experiment);
    $table = new Table($subject->items);
    foreach ($n as $variant => $units) {
        for ($i = 0; $i < $units; $i++) {
            $items = [];
            foreach ($reached as $key => $numbers) {
                if ($i < $numbers[$variant]) {
                    $items[$key] = ['steps' => [[20_514, 1, 1.0]], 'earlier' => 0.0];
                }
            }
            $table->add(new UnitTotals($variant, 0, 20_514, [], 1, $items));
        }
    }

    return Readout::of($subject, $table, Look::at($experiment, new DateTimeImmutable($at), new DateTimeZone('UTC')), $gate ?? Gate::of([]));
}

it('never confuses points with percent', function () {
    // Common practice, no source: 7.69 % against 12.12 % is +4.43 points, which is +57.6 %.
    $report = countsOf("variant,visitors,conversions\ncontrol,10000,769\nnew,10000,1212\n");
    $new = $report['goals'][0]['variants'][1];
    expect($report['sentence'])->toContain('most likely +4.43 points, that is +57.6 %')->and(round($new['difference']['points'], 10))->toBe(0.0443)->and(round($new['relative']['value'], 3))->toBe(0.576)
        ->and($report['goals'][0]['verdict'])->toBe('better')->and($report['goals'][0]['variants'][0])->not->toHaveKey('difference')->not->toHaveKey('relative')
        ->and($report['interval'])->toBe('planned')->and($new['better'])->toBeGreaterThan(0.999)->and($new['expected_loss'])->toBeLessThan(1e-9);
});

it('takes the variant named control, or else the first, for the control', function () {
    $keys = fn (string $csv): array => array_column(array_filter(countsOf($csv)['goals'][0]['variants'], fn (array $one): bool => $one['control']), 'key');
    expect($keys("variant,visitors,conversions\nnew,100,12\ncontrol,100,7\n"))->toBe(['control'])->and($keys("Group,Users,Converted\na,100,12\nb,100,7\n"))->toBe(['a']);
});

it('joins epochs instead of adding them up, and says where that would turn the sign', function () {
    // UCBAdmissions (R datasets; Bickel, Hammel, O'Connell 1975): admitted by department.
    $report = countsOf("variant,epoch,visitors,conversions\nmale,A,825,512\nfemale,A,108,89\nmale,B,560,353\nfemale,B,25,17\nmale,C,325,120\nfemale,C,593,202\nmale,D,417,138\nfemale,D,375,131\nmale,E,191,53\nfemale,E,393,94\nmale,F,373,22\nfemale,F,341,24\n");
    $goal = $report['goals'][0];
    expect($goal['naive_differs'])->toBeTrue()->and($goal['joined'])->toBeTrue()->and($goal['variants'][1]['difference']['points'])->toBeGreaterThan(0.0)->and($goal['variants'][1]['difference']['test'])->toBe('mantel-haenszel');
    expect(countsOf("variant,epoch,visitors,conversions\na,1,100,10\nb,1,100,14\na,2,100,20\nb,2,100,26\n")['goals'][0]['naive_differs'])->toBeFalse();
});

it('adjusts for several variants, and leaves what has nothing without a relative difference', function () {
    $report = countsOf("variant,visitors,conversions\ncontrol,1000,100\nb,1000,130\nc,1000,128\n");
    $p = fn (int $i, string $of): float => $report['goals'][0]['variants'][$i]['difference'][$of];
    expect($p(1, 'p'))->toEqualWithDelta(2 * $p(1, 'p_raw'), 1e-12)->and($p(2, 'p'))->toEqualWithDelta(max($p(2, 'p_raw'), $p(1, 'p')), 1e-12);
    $none = countsOf("variant,visitors,conversions\ncontrol,40,0\nb,40,3\n")['goals'][0]['variants'][1];
    expect($none['relative'])->toBeNull()->and($none['difference']['test'])->toBe('fisher-exact')->and($none)->not->toHaveKey('p_raw');
});

it('compares means, parts of the visitors, and shows nothing of a split that was not promised', function () {
    $mean = countsOf("variant,n,mean,sd\ncontrol,1000,4,10\nb,900,15,40\n")['goals'][0];
    expect($mean['measure'])->toBe('mean')->and($mean['variants'][1]['difference'])->toMatchArray(['points' => 11.0, 'test' => 'welch'])->and($mean['variants'][1]['sd'])->toEqualWithDelta(40.0, 1e-9)->and($mean['variants'][1]['rate'])->toBeNull();
    $parts = countsOf("variant,browser,visitors,conversions\ncontrol,safari,500,50\nb,safari,500,25\ncontrol,chrome,500,50\nb,chrome,500,90\n");
    expect($parts['goals'][0]['variants'][1]['n'])->toBe(1000)->and($parts['segments']['dimensions'][0])->toMatchArray(['dimension' => 'browser'])
        ->and($parts['segments']['dimensions'][0]['interaction']['p'])->toBeLessThan(1e-4)->and(array_column($parts['segments']['dimensions'][0]['rows'], 'value'))->toBe(['safari', 'chrome']);
    [$exit, $covered] = readoutOf(['--counts=-', '--weights=50,50'], "variant,visitors,conversions\na,1000,100\nb,700,90\n");
    expect($exit)->toBe(1)->and($covered['gate'])->toMatchArray(['open' => false, 'lifted' => false])->and($covered['goals'][0]['variants'][1])->toBe(['key' => 'b', 'control' => false])->and($covered)->not->toHaveKey('segments');
    [$exit, $lifted] = readoutOf(['--counts=-', '--weights=50,50', '--reason=Known'], "variant,visitors,conversions\na,1000,100\nb,700,90\n");
    expect($exit)->toBe(1)->and($lifted['gate'])->toMatchArray(['open' => false, 'lifted' => true, 'reason' => 'Known'])->and($lifted['goals'][0]['variants'][1]['n'])->toBe(700);
});

it('says what is wrong with a table, and where', function (string $csv, array $options, string $words) {
    [$exit, , $error] = readoutOf(['--counts=-', ...$options], $csv);
    expect($exit)->toBe(2)->and($error)->toContain($words);
})->with([
    ["variant,visitors\na,1\n", [], 'no column "conversions"'], ["variant,visitors,conversions\na,10,11\nb,1,1\n", [], 'line 2: column conversions: More visitors'], ["variant,visitors,conversions\na,x,1\n", [], 'line 2: column visitors: "x" is no count'],
    ["variant,n,mean,sd\na,10,1,-1\nb,1,1,1\n", [], 'line 2: column sd'], ["variant,n,mean,sd\na,10,many,1\n", [], 'column mean: "many" is no number'], ["variant,visitors,conversions\na,10,1\n", [], 'this one has 1'], ['', [], 'no rows'],
    ["variant,visitors,conversions\na,10,1\nb,10,1,1\n", [], 'line 3: The row has 4 cells'], ["variant,visitors,conversions\na,10,1\nb,10,1\n", ['--level=2'], 'level'], ["variant,visitors,conversions\na,10,1\nb,10,1\n", ['--weights=1,2,3'], 'weights'],
    ["variant,visitors,conversions\na,10,1\nb,10,1\n", ['--at=2026-03-02T00:00:00Z'], 'no --at'], ["variant,visitors,conversions\na,10,1\nb,10,1\n", ['--reason= '], 'Say why'],
]);

it('shows intervals for any look while it runs, and those of the plan at its end alone', function (array $more, string $at, string $interval, bool $over, string $why) {
    $look = Look::at(declaredForReadout($more), new DateTimeImmutable($at), new DateTimeZone('Europe/Lisbon'));
    expect($look->toArray()['interval'])->toBe($interval)->and($look->isOver)->toBe($over)->and($look->why)->toContain($why);
})->with([
    [[], '2026-03-12', 'anytime', false, 'It runs until 30 March 2026'], [[], '2026-03-30', 'planned', true, 'It ended as planned'], [['end' => null], '2026-03-12', 'planned', true, 'Nobody has said when it ends'],
    [['end' => null, 'planned_days' => 14], '2026-03-15', 'anytime', false, 'It runs until 16 March'], [['end' => null, 'planned_days' => 14], '2026-03-16', 'planned', true, 'ended as planned, on 16 March'],
    [['end' => '2026-03-09T00:00:00Z', 'planned_days' => 14], '2026-03-20', 'anytime', true, 'before its planned end on 16 March'], [['planned_days' => 14], '2026-04-01', 'anytime', true, 'ran on after its planned end on 16 March'],
]);

it('gives no green light to an early look that a planned interval would', function () {
    $experiment = declaredForReadout();
    $early = readoutOfNumbers($experiment, [400, 400], ['joined' => [40, 60]], '2026-03-10');
    expect($early->primary()->verdict()->value)->toBe('too-early')->and($early->toArray()['interval'])->toBe('anytime')->and($early->toArray()['sentence'])->toStartWith('Too early to say');
    expect(readoutOfNumbers($experiment, [400, 400], ['joined' => [40, 60]])->primary()->verdict()->value)->toBe('better');
    // What is beyond doubt at any look is said early, too.
    expect(readoutOfNumbers($experiment, [400, 400], ['joined' => [40, 140]], '2026-03-10')->primary()->verdict()->value)->toBe('better');
});

it('holds guardrails against their margin, by how much they may be worse', function (array $reached, float $margin, bool $isLower, string $at, string $verdict) {
    $experiment = declaredForReadout([
        'goals' => [['key' => 'joined', 'kind' => 'event', 'event' => 'joined', 'count' => 'visitor'], ['key' => 'kept', 'kind' => 'event', 'event' => 'kept', 'role' => 'guardrail', 'count' => 'visitor']],
        'decision' => ['by' => 'guarded', 'margins' => ['kept' => $margin], 'lower' => $isLower ? ['kept'] : []],
    ]);
    expect(readoutOfNumbers($experiment, [2000, 2000], ['joined' => [200, 300], 'kept' => $reached], $at)->goals[1]->verdict()->value)->toBe($verdict);
})->with([
    [[1000, 1000], 0.05, false, '2026-04-01', 'not-worse'], [[1000, 980], 0.01, false, '2026-04-01', 'no-difference'], [[1000, 980], 0.01, false, '2026-03-10', 'too-early'], [[1000, 800], 0.05, false, '2026-04-01', 'worse'],
    [[1000, 1100], 0.05, true, '2026-04-01', 'worse'], [[1000, 900], 0.05, true, '2026-04-01', 'not-worse'],
]);

it('proposes what the rule says', function (array $decision, array $joined, array $kept, ?string $choice, string $because) {
    $experiment = declaredForReadout([
        'goals' => [['key' => 'joined', 'name' => 'Joined', 'kind' => 'event', 'event' => 'joined', 'count' => 'visitor'], ['key' => 'kept', 'name' => 'Kept', 'kind' => 'event', 'event' => 'kept', 'role' => 'guardrail', 'count' => 'visitor']],
        'decision' => $decision,
    ]);
    $readout = readoutOfNumbers($experiment, [2000, 2000], ['joined' => $joined, 'kept' => $kept]);
    $proposal = Proposal::of($readout);
    expect($proposal?->choice)->toBe($choice)->and($proposal === null ? '' : $proposal->because)->toContain($because);
    expect(Proposal::of(readoutOfNumbers($experiment, [2000, 2000], ['joined' => $joined, 'kept' => $kept], '2026-03-10')))->toBeNull();
})->with([
    [['by' => 'person'], [200, 300], [900, 900], null, ''], [['by' => 'primary'], [200, 300], [900, 600], 'b', 'it is better'], [['by' => 'primary'], [200, 210], [900, 900], 'control', 'no variant was shown'],
    [['by' => 'guarded', 'margins' => ['kept' => 0.02]], [200, 300], [900, 600], 'control', 'falls below the margin of “Kept”'], [['by' => 'guarded', 'margins' => ['kept' => 0.05]], [200, 300], [900, 900], 'b', 'it is better'],
    [['by' => 'primary', 'worthwhile' => 0.08], [200, 300], [900, 900], 'control', '8.00 points were to be worth it'],
]);

it('refuses rules that say nothing', function (array $rule, string $field) {
    expect(fn () => DecisionRule::read($rule))->toThrow(fn (InvalidExperiment $e) => expect($e->field)->toBe($field));
})->with([[['by' => 'x'], 'by'], [['acts' => true], 'acts'], [['worthwhile' => -1], 'worthwhile'], [['margins' => [1]], 'margins'], [['caps' => ['a' => 'x']], 'caps.a'], [['lower' => [1]], 'lower.0'], [['earlier_days' => 91], 'earlier_days'], [['properties' => ['a b']], 'properties.0'], [['x' => 1], 'x']]);

it('compares money where a goal has it, and says where rate and money disagree', function () {
    // Common practice, no source: 20 % of visitors at 20 each earn less per visitor than 15 % at 100 each.
    $experiment = declaredForReadout(['goals' => [['key' => 'gift', 'name' => 'Gift', 'kind' => 'order', 'count' => 'every', 'currency' => 'EUR']], 'decision' => ['caps' => ['gift' => 500]]]);
    $subject = new Subject($experiment);
    $table = new Table($subject->items);
    foreach ([[0, 200, 20.0], [1, 150, 100.0]] as [$variant, $givers, $each]) {
        for ($i = 0; $i < 1000; $i++) {
            $table->add(new UnitTotals($variant, 0, 20_514, [], 1, $i < $givers ? ['gift' => ['steps' => [[20_514, 1, $each / 2], [20_515, 1, $each / 2]], 'earlier' => 0.0]] : []));
        }
    }
    $readout = Readout::of($subject, $table, Look::at($experiment, new DateTimeImmutable('2026-04-01'), new DateTimeZone('UTC')), Gate::of([]));
    $goal = $readout->toArray()['goals'][0];
    expect($goal['measure'])->toBe('mean')->and($goal['variants'][0]['mean'])->toEqualWithDelta(4.0, 1e-9)->and($goal['variants'][1]['mean'])->toEqualWithDelta(15.0, 1e-9)->and($goal['variants'][1]['hits'])->toBe(300)
        ->and($goal['verdict'])->toBe('better')->and($goal['by_rate']['verdict'])->toBe('worse')->and($goal['disagreement'])->toBe('Rate and money disagree: 15.00 % of the visitors of Names it reach it and bring 15.00 EUR per visitor; 20.00 % of the visitors of As it is reach it and bring 4.00 EUR per visitor. Money per visitor decides.');
    // Up to the first day half of the money is there; and what is taken off again leaves nothing.
    $item = $subject->primary();
    expect($table->samples($item, 1, null, 20_514)[0]->value())->toEqualWithDelta(7.5, 1e-9);
    $again = clone $table;
    for ($i = 0; $i < 150; $i++) {
        $again->add(new UnitTotals(1, 0, 20_514, [], 1, ['gift' => ['steps' => [[20_514, 1, 50.0], [20_515, 1, 50.0]], 'earlier' => 0.0]]), -1);
    }
    expect($again->samples($item, 1)[0]->yy)->toEqualWithDelta(0.0, 1e-6)->and($again->samples($item, 1)[0]->n)->toBe(850);
});

it('says nothing of means at an early look while next to nobody has a value', function () {
    $experiment = declaredForReadout(['goals' => [['key' => 'gift', 'name' => 'Gift', 'kind' => 'order', 'count' => 'every', 'currency' => 'EUR']]]);
    $subject = new Subject($experiment);
    foreach ([[9, 'too-early', null], [60, 'better', 0.0]] as [$givers, $verdict, $low]) {
        $table = new Table($subject->items);
        foreach ([0, 1] as $variant) {
            for ($i = 0; $i < 200; $i++) {
                $table->add(new UnitTotals($variant, 0, 20_514, [], 1, $i < $givers ? ['gift' => ['steps' => [[20_514, 1, 10.0 + 90 * $variant]], 'earlier' => 0.0]] : []));
            }
        }
        $goal = Readout::of($subject, $table, Look::at($experiment, new DateTimeImmutable('2026-03-10'), new DateTimeZone('UTC')), Gate::of([]))->toArray()['goals'][0];
        expect($goal['verdict'])->toBe($verdict)->and($goal['variants'][1]['difference']['low'] === null)->toBe($low === null)->and(json_encode($goal, JSON_THROW_ON_ERROR))->toContain($verdict);
    }
});

it('cuts a visitor’s value at a cap that was declared, and counts those whom it cuts', function () {
    $item = Item::ofGoal(Goal::read(['key' => 'gift', 'kind' => 'order', 'count' => 'every']), false, false, null, null, 100.0);
    $table = new Table([$item]);
    foreach ([[[1, 1, 60.0], [2, 1, 60.0], [3, 1, 500.0]], [[1, 1, 30.0]]] as $steps) {
        $table->add(new UnitTotals(0, 0, 1, [], 2, ['gift' => ['steps' => $steps, 'earlier' => 0.0]]));
    }
    $sample = $table->samples($item, 0)[0];
    expect([$sample->y, $sample->yy, $sample->capped, $sample->hits, $sample->reached])->toEqual([130.0, 10_900.0, 1, 4, 2])->and($table->samples($item, 0, null, 1)[0]->y)->toBe(90.0);
});

it('works out visits, sessions and what came before from what a unit did', function () {
    $experiment = declaredForReadout(['goals' => [['key' => 'joined', 'kind' => 'event', 'event' => 'joined', 'count' => 'session']], 'decision' => ['earlier_days' => 7]]);
    $subject = new Subject($experiment);
    $totaller = new Totaller($subject, new DateTimeZone('Europe/Lisbon'), 30, PHP_INT_MAX);
    $minute = 60_000;
    $begin = 1000 * (new DateTimeImmutable('2026-03-10T23:50:00Z'))->getTimestamp();
    $times = array_map(fn (int $at): int => $begin + $at * $minute, [-3 * 1440, 0, 1, 10, 100, 105]);
    // Came back after an hour and a half; the third event is the exposure, in the session that began a minute before.
    $unit = $totaller->unit(1, 0, 2, ['device' => 'mobile', 'page' => ''], $times, [1, 3, 4], [3 => ['#a', 12.0], 5 => ['#a', 20.0]]);
    $unit = $totaller->goal($unit, $subject->items[0], $times[2], [[$times[0], null, null, 's0'], [$times[3], null, null, 's1'], [$times[3] + 1, null, null, 's1'], [$times[5], null, null, 's2']]);
    expect($unit->sessions)->toBe(2)->and($unit->segments)->toBe(["device\x1fmobile"])->and($unit->day)->toBe(intdiv((new DateTimeImmutable('2026-03-10T00:00:00Z'))->getTimestamp(), 86_400))
        ->and($unit->items['visit.pages']['steps'][0][2])->toBe(3.0)->and($unit->items['visit.engaged']['steps'][0][2])->toBe(20.0)->and($unit->items['visit.length']['steps'][0][2])->toBe(900.0)->and($unit->items)->not->toHaveKey('visit.bounced')
        // On the next day by the site's clock; once a session; and before the exposure once.
        ->and($unit->items['joined'])->toEqual(['steps' => [[$unit->day + 1, 2, 2.0]], 'earlier' => 1.0])
        ->and(UnitTotals::from(json_decode(json_encode($unit->toArray(), JSON_PRESERVE_ZERO_FRACTION), true)))->toEqual($unit);
});

it('words what it says for people', function () {
    $item = Item::ofGoal(Goal::read(['key' => 'joined', 'name' => 'Joined', 'kind' => 'event', 'event' => 'joined']), true, false, null, 0.02, null);
    $of = fn (int $b): string => Sentence::of(Comparison::of($item, [['key' => 'control', 'name' => 'As it is', 'control' => true], ['key' => 'b', 'name' => 'Names it', 'control' => false]], [[Sample::ofCounts(2000, 400)], [Sample::ofCounts(2000, $b)]], Look::ofTable()));
    expect($of(500))->toContain('Names it raises “Joined” by 2.41 to 7.58 points')->toContain('At least the 2.00 points that were asked for.')
        ->and($of(300))->toContain('Names it lowers “Joined” by 2.65 to 7.35 points')->toContain('−5.00 points')
        ->and($of(405))->toContain('No difference found in “Joined”')->toContain('2.24 points below and 2.74 points above')->toContain('not ruled out')
        ->and(Amounts::signed($item, 0.00004))->toBe('+0.0040 points')->and(Amounts::relative(-0.5))->toBe('−50.0 %');
});

it('reads a log as an audit does, each order once whoever told of it first, and says the same of its two halves', function () {
    $settings = AuditLogs::settings(['double-order:strength=0.5'], 800, 10);
    $folder = sys_get_temp_dir().'/readout-'.getmypid();
    mkdir($folder);
    try {
        $events = array_map(fn (string $line): array => json_decode($line, true), AuditLogs::lines($settings));
        // Somebody else tells of every order an hour later.
        foreach (array_values(array_filter($events, fn (array $one): bool => $one['name'] === 'order')) as $i => $order) {
            $exposed = array_values(array_filter($events, fn (array $one): bool => $one['name'] === 'exposure' && $one['visitor'] !== $order['visitor']))[$i % 20];
            $events[] = [...$order, 'id' => "again-{$i}", 'visitor' => $exposed['visitor'], 'time' => gmdate('Y-m-d\TH:i:s\Z', strtotime($order['time']) + 3600)];
        }
        file_put_contents("{$folder}/log", implode("\n", array_map(json_encode(...), $events)));
        file_put_contents("{$folder}/shuffled", implode("\n", array_map(json_encode(...), array_reverse($events))));
        file_put_contents("{$folder}/e.json", json_encode($settings->experiment()));
        [$exit, $report, $error] = readoutOf(["{$folder}/log", "--experiment={$folder}/e.json", '--no-exclusions']);
        [, $other] = readoutOf(["{$folder}/shuffled", "--experiment={$folder}/e.json", '--no-exclusions', "--html={$folder}/r.html", "--csv={$folder}/r.csv"]);
        expect($error)->toBe('')->and($report['goals'][0]['key'])->toBe('loan-noted')->and($report['goals'][1])->toMatchArray(['key' => 'donated', 'role' => 'secondary', 'measure' => 'mean'])
            ->and($report['course']['days'])->not->toBe([])->and($report['values'][0]['item'])->toBe('donated');
        $told = fn (array $of): array => array_map(fn (array $goal): array => array_map(fn (array $one): array => [$one['key'], $one['n'], $one['hits'], round($one['mean'] ?? $one['rate'], 9)], $goal['variants']), $of['goals']);
        expect($told($other))->toBe($told($report))->and(file_get_contents("{$folder}/r.csv"))->toContain('donated,secondary,mean,control')->and(file_get_contents("{$folder}/r.html"))->toContain('Values of donated');
        $orders = [];
        $exposures = [];
        foreach ($events as $one) {
            if ($one['name'] === 'exposure') {
                $exposures[$one['visitor']] = min($exposures[$one['visitor']] ?? $one['time'], $one['time']);
            }
        }
        usort($events, fn (array $a, array $b): int => $a['time'] <=> $b['time']);
        foreach ($events as $one) {
            if ($one['name'] === 'order') {
                $orders[$one['props']['order_id']] ??= isset($exposures[$one['visitor']]) && $one['time'] >= $exposures[$one['visitor']] ? 1 : 0;
            }
        }
        expect(array_sum(array_column($report['goals'][1]['variants'], 'hits')))->toBe(array_sum($orders));
    } finally {
        array_map(unlink(...), glob("{$folder}/*"));
        rmdir($folder);
    }
});
