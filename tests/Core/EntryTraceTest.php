<?php

use Pellix\Core\Counting\Reach;
use Pellix\Core\Events\LogEvent;
use Pellix\Core\Experiments\EntryTrace;
use Pellix\Core\Rules\DescribedVisitor;
use Pellix\Core\Rules\Facts;
use Pellix\Core\Rules\InvalidRule;
use Pellix\Core\Rules\PageRule;
use Pellix\Core\Rules\RuleReader;

const LOAN_PAGES = ['fact' => 'url.path', 'op' => 'starts', 'value' => '/loan'];

/** @param array<string, mixed> $visitor */
function traced(array $visitor, ?array $audience, array $pages = LOAN_PAGES): EntryTrace
{
    $described = DescribedVisitor::read(['url' => 'https://site.test/loan?plan=new', ...$visitor]);

    return EntryTrace::of(PageRule::read($pages), $audience === null ? null : RuleReader::read($audience), $described, $described->isKnown(...));
}

it('tells in words whether somebody enters', function (array $visitor, ?array $audience, string $words) {
    expect(traced($visitor, $audience)->words)->toBe($words);
})->with([
    [[], null, 'enters'],
    [['url' => 'https://site.test/join'], null, 'does not: path is `/join`, wanted one that starts with `/loan`'],
    [['device' => 'mobile'], ['fact' => 'device', 'op' => 'is', 'value' => 'mobile'], 'enters'],
    [['device' => 'mobile'], ['fact' => 'device', 'op' => 'is', 'value' => 'desktop'], 'does not: device is `mobile`, wanted `desktop`'],
    [[], ['fact' => 'device', 'op' => 'is', 'value' => 'desktop'], 'cannot be told: device is not known, wanted `desktop`'],
    [['returning' => true], ['fact' => 'visitor.returning', 'op' => 'is', 'value' => false], 'does not: been here before is `yes`, wanted `no`'],
    [[], ['fact' => 'url.query.plan', 'op' => 'in', 'value' => ['old', 'none']], 'does not: query parameter plan is `new`, wanted one of `old`, `none`'],
    [['cookies' => ['member' => 'gold']], ['fact' => 'cookie.member', 'op' => 'is-not', 'value' => 'gold'], 'does not: cookie member is `gold`, wanted anything but `gold`'],
    [['cookies' => ['x' => '1']], ['fact' => 'cookie.member', 'op' => 'exists'], 'does not: cookie member is not there, wanted any'],
    [['data' => ['basket.total' => 12]], ['fact' => 'data.basket.total', 'op' => 'gt', 'value' => 20], 'does not: data layer basket.total is `12`, wanted more than `20`'],
    [['referrer' => ''], ['fact' => 'referrer.host', 'op' => 'is', 'value' => 'mail.test'], 'does not: came from host is not there, wanted `mail.test`'],
    [['referrer' => 'https://mail.test/x'], ['fact' => 'referrer.host', 'op' => 'is', 'value' => 'mail.test'], 'enters'],
    // What is known decides where it can.
    [['device' => 'tablet'], ['all' => [['fact' => 'language', 'op' => 'is', 'value' => 'de'], ['fact' => 'device', 'op' => 'is', 'value' => 'mobile']]], 'does not: device is `tablet`, wanted `mobile`'],
    [['device' => 'mobile'], ['any' => [['fact' => 'language', 'op' => 'is', 'value' => 'de'], ['fact' => 'device', 'op' => 'is', 'value' => 'mobile']]], 'enters'],
    [['device' => 'mobile'], ['not' => ['all' => [['fact' => 'device', 'op' => 'is', 'value' => 'mobile'], ['fact' => 'language', 'op' => 'is', 'value' => 'de']]]], 'cannot be told: language is not known, wanted `de`'],
    [['device' => 'tablet'], ['any' => [['fact' => 'device', 'op' => 'is', 'value' => 'mobile'], ['fact' => 'device', 'op' => 'is', 'value' => 'desktop']]], 'does not: device is `tablet`, wanted `mobile`; device is `tablet`, wanted `desktop`'],
    [['device' => 'mobile'], ['any' => []], 'does not: '],
]);

it('agrees with the rule itself wherever everything is known, and with both answers wherever it does not', function () {
    $leaf = static fn (int $i): array => ['fact' => "cookie.c{$i}", 'op' => 'exists'];
    $make = static function (int $depth) use (&$make, $leaf): array {
        return match (mt_rand(0, $depth > 3 ? 0 : 3)) {
            0 => $leaf(mt_rand(0, 4)),
            1 => ['not' => $make($depth + 1)],
            2 => ['all' => array_map(static fn () => $make($depth + 1), range(1, mt_rand(1, 3)))],
            default => ['any' => array_map(static fn () => $make($depth + 1), range(1, mt_rand(1, 3)))],
        };
    };
    mt_srand(9);
    for ($n = 0; $n < 500; $n++) {
        $rule = RuleReader::read($make(0));
        $set = array_map(static fn (): int => mt_rand(0, 2), range(0, 4));
        $answers = [];
        for ($bits = 0; $bits < 32; $bits++) {
            $facts = new class ($set, $bits) implements Facts {
                public function __construct(private array $set, private int $bits)
                {
                }

                public function get(string $fact): ?string
                {
                    $i = (int) substr($fact, 8);

                    return ($this->set[$i] === 2 ? ($this->bits >> $i) & 1 : $this->set[$i]) === 1 ? 'x' : null;
                }
            };
            $answers[(int) $rule->matches($facts)] = true;
            $judged = $rule->judge($facts, static fn (string $fact): bool => $set[(int) substr($fact, 8)] !== 2);
            // Never guessed: what it says holds whatever the rest may be.
            expect($judged === null || $judged === $rule->matches($facts))->toBeTrue();
            expect($rule->judge($facts, static fn (): bool => true))->toBe($rule->matches($facts));
        }
        expect(count($answers) === 2 ? $judged : 'settled')->toBe(count($answers) === 2 ? null : 'settled');
    }
});

it('refuses a visitor that is described wrongly, at the field', function (array $visitor, string $field) {
    expect(fn () => DescribedVisitor::read($visitor))->toThrow(fn (InvalidRule $e) => expect($e->field)->toBe($field));
})->with([
    [['url' => '/loan'], 'url'], [['url' => 'https://a.test/', 'device' => 'phone'], 'device'], [['url' => 'https://a.test/', 'data' => ['a' => ['b' => 1]]], 'data.a'],
    [['url' => 'https://a.test/', 'cookies' => 'x'], 'cookies'], [['url' => 'https://a.test/', 'colour' => 'red'], 'colour'],
]);

it('counts whom an experiment would have met, by week, and guesses nothing', function () {
    $now = new DateTimeImmutable('2026-03-29T00:00:00Z');
    $view = static fn (string $visitor, string $day, string $path, string $agent = '', ?string $user = null): LogEvent => new LogEvent("{$visitor}{$day}{$path}", $visitor, new DateTimeImmutable("2026-03-{$day}T12:00:00Z"), 'page_view', "https://site.test{$path}", [], '', $agent, $user);
    $phone = 'Mozilla/5.0 (iPhone; CPU iPhone OS 18_5 like Mac OS X) Version/18.5 Mobile/15E148 Safari/604.1';
    $of = static function (?array $audience, string $unit = 'visitor') use ($now, $view, $phone): array {
        $reach = new Reach(PageRule::read(LOAN_PAGES), $audience === null ? null : RuleReader::read($audience), $unit, $now);
        $reach->add([$view('a', '02', '/loan', $phone), $view('a', '03', '/loan?x=1', $phone), $view('a', '20', '/loan/two', $phone)]);
        $reach->add([$view('b', '20', '/loan', '', 'ben'), $view('b', '21', '/join')]);
        $reach->add([$view('c', '21', '/join')]);
        $reach->add([new LogEvent('d', 'd', new DateTimeImmutable('2026-02-20T12:00:00Z'), 'page_view', 'https://site.test/loan', [], '', '', null)]);

        return $reach->result(10);
    };
    $all = $of(null);
    expect([$all['views'], $all['visitors'], $all['eligible'], $all['unknown']])->toBe([4, 2, 2, 0])
        ->and(array_map(static fn (array $week): array => [$week['visitors'], $week['eligible']], $all['weeks']))->toBe([[1, 1], [0, 0], [2, 2], [0, 0]])
        ->and($all['pages'])->toBe(['https://site.test/loan' => 3, 'https://site.test/loan/two' => 1]);
    expect($of(['fact' => 'device', 'op' => 'is', 'value' => 'mobile']))->toMatchArray(['visitors' => 2, 'eligible' => 1, 'unknown' => 1, 'unrecorded' => []])
        ->and($of(['fact' => 'language', 'op' => 'is', 'value' => 'de']))->toMatchArray(['eligible' => 0, 'unknown' => 2, 'unrecorded' => ['language']])
        ->and($of(null, 'user'))->toMatchArray(['visitors' => 2, 'eligible' => 1]);
});
