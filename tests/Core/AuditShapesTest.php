<?php

use Pellix\Core\Audit\Reading\Gathered;
use Pellix\Core\Audit\Reading\Keys;
use Pellix\Core\Audit\Reading\Personal;
use Pellix\Core\Audit\Reading\Row;
use Pellix\Core\Audit\Shapes\Culprit;
use Pellix\Core\Audit\Shapes\Histogram;
use Pellix\Core\Audit\Shapes\RateBreak;
use Pellix\Core\Audit\Shapes\RatioBreak;
use Pellix\Core\Audit\Shapes\RatioFault;
use Pellix\Core\Audit\Shapes\Rhythm;
use Pellix\Core\Audit\Shapes\Stretches;
use Pellix\Core\Audit\Shapes\Where;
use Pellix\Core\Audit\Sums\Cohorts;
use Pellix\Core\Audit\Sums\Rarest;
use Pellix\Core\Events\CsvRows;
use Pellix\Core\Events\InvalidLog;
use Pellix\Core\Events\LogReader;
use Pellix\Core\Events\PlainRow;
use Pellix\Core\Formats\Instants;
use Pellix\Core\Formats\Lines;
use Pellix\Core\Formats\Moment;
use Pellix\Core\Formats\PlainJson;
use Pellix\Core\Formats\Spool;
use Tests\Support\AuditLogs;

const HOUR_ONE = 492_336;

function twoVariants(array $epochs = []): Pellix\Core\Audit\Setup
{
    return AuditLogs::setup(['pellix' => 1, 'key' => 'x', 'salt' => 's', 'variants' => [['key' => 'a', 'weight' => 1], ['key' => 'b', 'weight' => 1]], 'epochs' => $epochs]);
}

it('tells since and until when a rate is another', function () {
    $trials = array_fill(HOUR_ONE, 200, 50);
    $hits = [];
    foreach (array_keys($trials) as $i => $hour) {
        $hits[$hour] = $i >= 80 && $i < 120 ? 20 : 5;
    }
    $break = RateBreak::of($hits, $trials, false);
    expect([$break->since, $break->until])->toBe([3_600_000 * (HOUR_ONE + 80), 3_600_000 * (HOUR_ONE + 120)])->and($break->inside)->toBe(0.4)->and($break->outside)->toBe(0.1)->and($break->logP)->toBeLessThan(-100);
    // One that lasts has no end, and a lower rate is no higher one.
    foreach (array_keys($trials) as $i => $hour) {
        $hits[$hour] = $i >= 150 ? 1 : 10;
    }
    $break = RateBreak::of($hits, $trials, true);
    expect([$break->since, $break->until])->toBe([3_600_000 * (HOUR_ONE + 150), null])
        ->and(RateBreak::of(array_fill(HOUR_ONE, 200, 5), $trials, false)?->logP ?? 0.0)->toBeGreaterThan(log(0.05))
        ->and(RateBreak::of([], [HOUR_ONE => 5], false))->toBeNull();
});

it('tells when a split left its weights, each epoch by its own', function () {
    $setup = twoVariants([['from' => '2026-03-01T00:00:00Z', 'weights' => ['a' => 1, 'b' => 1]], ['from' => '2026-03-06T04:00:00Z', 'weights' => ['a' => 3, 'b' => 1]]]);
    $cohorts = new Cohorts();
    for ($i = 0; $i < 240; $i++) {
        [$epoch, $a, $b] = $i < 100 ? [0, 20, 20] : [1, 30, $i >= 160 ? 4 : 10];
        $cohorts->add([''], $epoch, HOUR_ONE + $i, 0, $a);
        $cohorts->add([''], $epoch, HOUR_ONE + $i, 1, $b);
    }
    $break = RatioBreak::of($cohorts, '', $setup);
    expect([$break->since, $break->until])->toBe([3_600_000 * (HOUR_ONE + 160), null])->and($break->observed)->toBe([2400, 320])->and($break->expected)->toBe([2040.0, 680.0]);
    $fault = RatioFault::of($cohorts, $setup);
    expect($fault->variant)->toBe(1)->and($fault->missing)->toBe(480)->and($fault->keys)->toBe([]);
});

it('finds the smallest set of segments that explains a split', function () {
    $setup = twoVariants();
    $cohorts = new Cohorts();
    foreach (['safari' => ['mobile' => [2000, 1400], 'desktop' => [900, 905]], 'firefox' => ['desktop' => [1500, 1490]], 'chrome' => ['mobile' => [3000, 3010], 'desktop' => [4000, 3985]]] as $browser => $devices) {
        foreach ($devices as $device => $counts) {
            foreach ($counts as $variant => $number) {
                $cohorts->add(Keys::of(implode(Row::PART, [$device, $browser, '', '']), 'shop.test/', false), 0, HOUR_ONE, $variant, $number);
            }
        }
    }
    $fault = RatioFault::of($cohorts, $setup);
    expect(array_map(Keys::parts(...), $fault->keys))->toBe([['browser+device', 'safari+mobile']])->and($fault->missing)->toBe(600)->and($fault->rest)->toBeGreaterThan(log(0.1));
    expect(Where::of($fault->keys)->segment)->toBe(['dimension' => 'browser+device', 'value' => 'safari+mobile']);
    // Two browsers, where two are hit.
    $cohorts = new Cohorts();
    foreach (['safari' => [3000, 2400], 'firefox' => [2000, 1600], 'chrome' => [5000, 5020], 'edge' => [1500, 1490]] as $browser => $counts) {
        foreach ($counts as $variant => $number) {
            $cohorts->add(['', Keys::key('browser', $browser)], 0, HOUR_ONE, $variant, $number);
        }
    }
    $keys = RatioFault::of($cohorts, $setup)->keys;
    sort($keys);
    expect($keys)->toBe([Keys::key('browser', 'firefox'), Keys::key('browser', 'safari')]);
});

it('names the part that something is confined to, and none where it is everywhere', function () {
    [$bad, $all] = [new Cohorts(), new Cohorts()];
    foreach (['safari' => 40, 'chrome' => 1, 'firefox' => 0] as $browser => $wrong) {
        foreach (range(0, 47) as $i) {
            $all->add(['', Keys::key('browser', $browser)], 0, HOUR_ONE + $i, $i % 2, 100);
            $wrong > 0 && $bad->add(['', Keys::key('browser', $browser)], 0, HOUR_ONE + $i, $i % 2, $wrong);
        }
    }
    $where = Culprit::among($bad, $all, twoVariants());
    expect($where->segment)->toBe(['dimension' => 'browser', 'value' => 'safari'])->and($where->variant)->toBeNull()->and($where->since)->toBeNull()->and(round($where->rate, 2))->toBe(0.4);
    expect(Culprit::among($all, $all, twoVariants())->segment)->toBeNull();
});

it('knows the rhythm of a log by medians, and finds what is missing in it', function () {
    $events = [];
    for ($hour = 0; $hour < 24 * 28; $hour++) {
        $events[HOUR_ONE + $hour] = (int) round((10 + 30 * ($hour % 24)) * (intdiv($hour, 24) % 7 >= 5 ? 0.5 : 1));
    }
    $rhythm = Rhythm::of($events, HOUR_ONE, HOUR_ONE + 24 * 28);
    expect($rhythm->at(HOUR_ONE + 12))->toBe(370.0)->and($rhythm->at(HOUR_ONE + 5 * 24 + 12))->toBe(185.0)->and(Rhythm::of($events, HOUR_ONE, HOUR_ONE + 48))->toBeNull();
    $expected = [];
    foreach (array_keys($events) as $hour) {
        $expected[$hour] = $rhythm->at($hour);
    }
    $seen = $events;
    for ($hour = HOUR_ONE + 250; $hour < HOUR_ONE + 256; $hour++) {
        unset($seen[$hour]);
    }
    for ($hour = HOUR_ONE + 400; $hour < HOUR_ONE + 430; $hour++) {
        $seen[$hour] = (int) ($seen[$hour] * 0.4);
    }
    $stretches = new Stretches('', $seen, $expected, 2.0, 0.08, 1, HOUR_ONE + 24 * 28);
    $silences = $stretches->silences(1.0);
    expect($silences)->toHaveCount(1)->and([$silences[0]->since, $silences[0]->until, $silences[0]->observed])->toBe([3_600_000 * (HOUR_ONE + 250), 3_600_000 * (HOUR_ONE + 256), 0])->and($silences[0]->isSilence())->toBeTrue();
    $drops = $stretches->drops($silences);
    expect($drops)->toHaveCount(1)->and($drops[0]->since)->toBe(3_600_000 * (HOUR_ONE + 400))->and($drops[0]->until)->toBe(3_600_000 * (HOUR_ONE + 430))->and($drops[0]->holds(HOUR_ONE + 410))->toBeTrue()->and($drops[0]->holds(HOUR_ONE + 430))->toBeFalse();
    expect((new Stretches('', $events, $expected, 2.0, 0.08, 1, HOUR_ONE + 24 * 28))->drops([]))->toBe([]);
});

it('has robust figures of values that were counted in bins', function () {
    $bins = [];
    foreach (range(1, 999) as $i) {
        $bin = (int) floor(log10($i) * 20);
        $bins[$bin] = ($bins[$bin] ?? 0) + 1;
    }
    $histogram = new Histogram($bins);
    expect(abs(10 ** $histogram->median() - 500))->toBeLessThan(40)->and($histogram->number)->toBe(999)->and($histogram->between(2.0, 4.0))->toBe(900);
});

it('lets go of the rarest alone, whatever came first', function () {
    $sizes = ['' => 1, 'b' => 5, 'a' => 5, 'c' => 9, 'd' => 1, 'e' => 2];
    $gone = static fn (array $keys, int $cells, int $mostKeys): array => Rarest::of(array_fill_keys($keys, $cells), static fn (string $key): int => $sizes[$key], $mostKeys, 100);
    expect($gone(array_keys($sizes), 1, 10))->toBe([])
        ->and($gone(array_keys($sizes), 1, 5))->toBe(['e', 'd'])
        ->and($gone(array_reverse(array_keys($sizes)), 1, 5))->toBe(['e', 'd'])
        ->and($gone(array_keys($sizes), 40, 10))->toBe(['a', 'b', 'e', 'd']);
});

it('brings together what two processes have put aside', function () {
    [$one, $other] = [new Spool(1), new Spool(1)];
    foreach (range(1, 300) as $i) {
        ($i % 2 === 0 ? $one : $other)->add(0, 'user-'.($i % 100)."\t{$i}\n");
    }
    $found = [];
    foreach (Gathered::of([$one, $other]) as [$user, $lines]) {
        $found[$user] = array_column($lines, 0);
        sort($found[$user]);
    }
    ksort($found);
    expect($found)->toHaveCount(100)->and($found['user-7'])->toBe(['7', '107', '207']);
});

it('parts lines once more, and what belongs together stays together, file by file', function () {
    $spool = new Spool(2);
    foreach (range(0, 199) as $i) {
        $spool->add($i % 2, 'v'.intdiv($i, 4)." {$i}\n");
    }
    $seen = [];
    Spool::inParts([$spool->part(0), $spool->part(1)], 5, static fn (string $line): int => crc32(strtok($line, ' ')), function (array $files) use (&$seen): void {
        $lines = array_map(stream_get_contents(...), $files);
        foreach ($lines as $file => $text) {
            foreach (explode("\n", trim($text)) as $line) {
                [$visitor, $number] = explode(' ', $line);
                $seen[$visitor][(int) $number] = [$file, md5(implode($lines))];
            }
        }
    });
    expect($seen)->toHaveCount(50);
    foreach ($seen as $visitor => $events) {
        expect($events)->toHaveCount(4)->and(array_unique(array_column($events, 1)))->toHaveCount(1)->and(array_map(fn (array $one): int => $one[0], $events))->each(fn ($file, $number) => $file->toBe($number % 2));
    }
});

it('sees personal data in addresses and properties, and not in what only looks like it', function (string $url, array $props, bool $is) {
    expect(Personal::isInAddress($url) || Personal::isInProps($props))->toBe($is);
})->with([
    ['https://shop.test/?mail=jo%40post.example', [], true],
    ['https://shop.test/thanks?to=jo@post.example', [], true],
    ['https://shop.test/', ['note' => 'call +49 30 1234567'], true],
    ['https://shop.test/', ['form' => ['mail' => 'jo.do+x@post.example']], true],
    ['https://shop.test/a%20b', ['path' => 'main > a.button', 'value' => 12.5], false],
    ['https://shop.test/@handle', ['sum' => '3+4'], false],
    ['https://shop.test/', ['list' => [1, 2, 3]], false],
]);

it('takes no row for a plain one that the careful reader refuses', function (mixed $row) {
    $sound = ['id' => 'a', 'visitor' => 'v', 'time' => '2026-03-02T10:00:00Z', 'name' => 'n', 'url' => 'https://x.test/'];
    expect(PlainRow::is($sound))->toBeTrue()->and(PlainRow::is(is_array($row) ? [...$sound, ...$row] : $row))->toBeFalse();
})->with([[['id' => '']], [['id' => 7]], [['visitor' => null]], [['name' => str_repeat('n', 201)]], [['url' => '']], [['time' => 5]], [['props' => [1]]], [['props' => 'x']], [['user' => 5]], [['agent' => ['x']]], ['text'], [null], [5]]);

it('reads a moment as the careful reader does, however often its hour came before', function (string $time) {
    $instants = new Instants();
    foreach (['2026-03-02T14:00:00.000Z', '2026-03-02T14:05:06Z', $time, $time] as $one) {
        $moment = Moment::parse($one);
        expect($instants->of($one))->toBe($moment === null ? null : 1_000_000 * $moment->getTimestamp() + (int) $moment->format('u'));
    }
})->with(['2026-03-02T14:05:06.789Z', '2026-03-02T14:59:59.999Z', '2026-03-02T14:60:00.000Z', '2026-03-02T14:05:61.000Z', '2026-03-02T14:0.:06.789Z', '2026-03-02T14:05:06.7890Z', '2026-03-02T14:05:06.789z', '2026-03-02 14:05:06.789Z', '2026-03-02T14:05:06.789+01:00', '1969-12-31T23:59:59.500Z', 'x']);

it('goes on after a quote that is never closed, and reads cells of several lines', function () {
    $lines = (fn () => yield from [1 => 'a,b', 2 => '1,"two', 3 => 'lines"', 4 => '3,"open', 5 => '5,6'])();
    $rows = iterator_to_array(CsvRows::of($lines, true));
    expect(array_keys($rows))->toBe([1, 2, 4, 5])->and($rows[2])->toBe("1,\"two\nlines\"")->and($rows[4])->toBeInstanceOf(InvalidLog::class)->and($rows[5])->toBe('5,6')
        ->and(CsvRows::header('a;b;c', 1))->toBe([';', ['a', 'b', 'c']])->and(complaint(fn () => CsvRows::header('a,a', 1)))->toContain('more than once');
});

it('passes over a line that is too long, and tells which', function () {
    $stream = fopen('php://memory', 'w+');
    fwrite($stream, "one\n".str_repeat('x', 5_000_000)."\nthree");
    rewind($stream);
    $told = [];
    $lines = iterator_to_array(Lines::of($stream, function (int $line, string $why, bool $isEnd) use (&$told): void {
        $told[] = [$line, $isEnd];
    }));
    expect($lines)->toBe([1 => 'one', 3 => 'three'])->and($told)->toBe([[2, false]]);
});

it('keeps numbers that are too large as texts', function () {
    expect(PlainJson::of(['a' => 1.0, 'b' => ['c' => INF]]))->toBe('{"a":1.0,"b":{"c":"no number"}}');
    expect(LogReader::event(1, ['id' => 'a', 'visitor' => 'v', 'time' => '2026-03-02T10:00:00Z', 'name' => 'n', 'url' => 'u', 'props' => ['x' => INF]])->props['x'])->toBe(INF);
});
